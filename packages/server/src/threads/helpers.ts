import { once } from 'node:events';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Helper, LocalHelper } from '@imprint/core/matching/search/helper';
import Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter.js';

/** A generation of the search is shared among all threads; more would mostly wait for the slowest. */
const MOST_HELPERS = 3;

export interface Helpers {
  helpers: Helper[];
  end: () => Promise<void>;
}

/** Starts threads that render for a search, one for every core besides the caller's. */
export function startHelpers(count = Math.min(MOST_HELPERS, availableParallelism() - 1)): Helpers {
  const workers = Array.from({ length: count }, () => new Worker(new URL('helper.thread.mjs', import.meta.url)));
  return {
    helpers: workers.map(helperOf),
    end: async () => {
      await Promise.all(workers.map((worker) => worker.terminate()));
    },
  };
}

/** Calls to a thread; those that it does not live to answer are rejected. */
function helperOf(worker: Worker): Helper {
  // A search that fails must not be kept from ending by threads that wait for it.
  worker.unref();
  const remote = Comlink.wrap<LocalHelper>(nodeEndpoint(worker));
  const ended = once(worker, 'exit').then(() => {
    throw new Error('A thread of the search ended before it was done.');
  });
  ended.catch(() => {});
  const answered = <T>(answer: Promise<T>): Promise<T> => Promise.race([answer, ended]);
  return {
    begin: (cuts) => answered(remote.begin(cuts)),
    hold: (holdings) => answered(remote.hold(holdings)),
    calibrate: (patch, rate) => answered(remote.calibrate(patch, rate)),
    distances: (patches, rate) => answered(remote.distances(patches, rate)),
  };
}
