import LightRunner from 'jest-light-runner/child-process';
import { register } from 'tsx/esm/api';

const endWithParent = new URL('endWithParent.mjs', import.meta.url).href;

/**
 * Runs tests in plain Node processes that go on from file to file, not in a sandbox for each: what is
 * compiled once stays fast, which halves the time of tests that compute. There are no time limits and no
 * mocks of modules here.
 */
export default class PlainRunner extends LightRunner {
  async runTests(...words) {
    const before = process.env.NODE_OPTIONS;
    // The processes that it starts read TypeScript; so does this one, which runs the tests of `--runInBand`.
    process.env.NODE_OPTIONS = [before, '--import tsx', `--import ${endWithParent}`].filter(Boolean).join(' ');
    const unregister = register();
    try {
      await super.runTests(...words);
    } finally {
      await unregister();
      if (before === undefined) delete process.env.NODE_OPTIONS;
      else process.env.NODE_OPTIONS = before;
    }
  }
}
