import type { Helper, LocalHelper } from '@imprint/core/matching/search/helper';
import HelperWorkerFile from './helper.worker?worker';
import { run } from './running';

/** The page, its sound and the browser need room, too. */
const MOST_HELPERS = 2;

let started: Helper[] | undefined;

/** Threads that render for a search beside the one that asks; they end with it. */
export function helpers(): Helper[] {
  const count = Math.min(MOST_HELPERS, navigator.hardwareConcurrency - 1);
  started ??= Array.from({ length: count }, () => run<LocalHelper>(new HelperWorkerFile()).api);
  return started;
}
