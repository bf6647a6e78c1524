import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import type { MatchState } from '@imprint/core/matching/match';
import Comlink from 'comlink';
import pLimit from 'p-limit';
import nodeEndpoint from 'comlink/dist/umd/node-adapter.js';
import type { MatchFound, MatchTask, Matcher } from './matcher';

/** Threads that match, one for each run at a time; they stay, since starting one takes a second. */
export interface Matchers {
  /**
   * @param bytesOf gives the sound file, where the thread has it not from the match before
   * @param tell ends the search by returning true
   */
  match: (
    task: MatchTask,
    bytesOf: () => Promise<Uint8Array>,
    tell: (state: MatchState) => boolean,
  ) => Promise<MatchFound>;
  /** Lets one thread run through a match, where none did yet, so that the first is as fast as the next. */
  warmUp: () => Promise<void>;
  end: () => Promise<void>;
}

interface Thread {
  worker: Worker;
  remote: Comlink.Remote<Matcher>;
  /** Rejects when the thread has ended. */
  ended: Promise<never>;
  sha256?: string;
}

export function startMatchers(count: number): Matchers {
  const all = new Set(Array.from({ length: count }, startThread));
  /** Those that nobody uses; the one that was used last comes last. */
  const idle = new Set(all);
  const limit = pLimit(count);
  let isWarm = false;
  /** Lends a thread out, once one is free; the one that was used last is warm. One that ends is replaced. */
  const lend = <T>(wish: (thread: Thread) => boolean, work: (thread: Thread) => Promise<T>): Promise<T> =>
    limit(async () => {
      isWarm = true;
      const free = [...idle];
      const thread = free.find(wish) ?? free.at(-1)!;
      idle.delete(thread);
      try {
        return await Promise.race([work(thread), thread.ended]);
      } finally {
        const next = isRunning(thread) ? thread : startThread();
        if (next !== thread) all.delete(thread);
        all.add(next);
        idle.add(next);
      }
    });
  return {
    match: (task, bytesOf, tell) =>
      lend(
        ({ sha256 }) => sha256 === task.sha256,
        (thread) => matchOn(thread, task, bytesOf, tell),
      ),
    warmUp: async () => {
      if (isWarm) return;
      await lend(
        () => true,
        ({ remote }) => remote.warmUp(),
      );
    },
    end: async () => {
      await Promise.all([...all].map(({ worker }) => worker.terminate()));
    },
  };
}

const isRunning = ({ worker }: Thread) => worker.threadId !== -1;

function startThread(): Thread {
  const worker = new Worker(new URL('matcher.thread.mjs', import.meta.url));
  const ended = once(worker, 'exit').then(() => {
    throw new Error('The thread that was at this run ended, perhaps for want of memory. A shorter cut may do.');
  });
  ended.catch(() => {});
  return { worker, remote: Comlink.wrap<Matcher>(nodeEndpoint(worker)), ended };
}

async function matchOn(
  thread: Thread,
  task: MatchTask,
  bytesOf: () => Promise<Uint8Array>,
  tell: (state: MatchState) => boolean,
): Promise<MatchFound> {
  if (!(await thread.remote.has(task.sha256))) await thread.remote.load(task.sha256, await bytesOf());
  thread.sha256 = task.sha256;
  return thread.remote.match(task, Comlink.proxy(tell));
}
