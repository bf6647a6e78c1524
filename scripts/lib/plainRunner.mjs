import LightRunner from 'jest-light-runner/child-process';
import Tinypool from 'tinypool';
import { register } from 'tsx/esm/api';

const endWithParent = new URL('endWithParent.mjs', import.meta.url).href;
const WORKER = new URL('worker-runner.js', import.meta.resolve('jest-light-runner')).href;
/** Room for what is soon thrown away, in MB: what computes throws away much. */
const YOUNG = '--max-semi-space-size=64';
/** What a process asks for when it begins, and what it is answered. */
const ASKED = 'jest-light-runner-get-worker-data';
const ANSWER = 'jest-light-runner-worker-data';

/**
 * Runs tests in plain Node processes that go on from file to file, not in a sandbox for each: what is
 * compiled once stays fast, which halves the time of tests that compute. There are no time limits and no
 * mocks of modules here.
 */
export default class PlainRunner extends LightRunner {
  async runTests(...words) {
    const before = process.env.NODE_OPTIONS;
    // The processes that it starts read TypeScript; so does this one, which runs the tests of `--runInBand`.
    process.env.NODE_OPTIONS = [before, '--import tsx', `--import ${endWithParent}`, YOUNG].filter(Boolean).join(' ');
    const unregister = register();
    try {
      await super.runTests(...words);
    } finally {
      await unregister();
      if (before === undefined) delete process.env.NODE_OPTIONS;
      else process.env.NODE_OPTIONS = before;
    }
  }

  /**
   * As the base class, but with a channel for each file: with one for all, what the first process asks for is
   * sent to those that do not listen yet, which then wait for ever.
   */
  _runTest(test) {
    if (this._runtime === 'main_thread') return super._runTest(test);
    const projectConfig = test.context.config;
    const workerData = { globalConfig: this._globalConfig, projectConfig, runtime: this._runtime };
    if (!this._testRunners.has(projectConfig)) {
      const { maxWorkers } = this._globalConfig;
      const pool = new Tinypool({
        filename: WORKER,
        runtime: this._runtime,
        minThreads: maxWorkers,
        maxThreads: maxWorkers,
        env: process.env,
        trackUnmanagedFds: false,
        workerData,
      });
      this._testRunners.set(projectConfig, { pool });
    }
    return this._testRunners.get(projectConfig).pool.run(test.path, { channel: channelOf(workerData) });
  }
}

function channelOf(workerData) {
  const listeners = [];
  return {
    onMessage: (listener) => listeners.push(listener),
    postMessage(message) {
      if (message === ASKED) for (const listener of listeners) listener({ type: ANSWER, workerData });
    },
  };
}
