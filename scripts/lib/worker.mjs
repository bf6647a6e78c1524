import { join } from 'node:path';
import { startProgram } from './program.mjs';

/**
 * Starts a worker for matches and waits until it is ready. `exited` resolves when it ends, which it does with
 * this process, too.
 */
export const startWorker = (root, environment) =>
  startProgram('worker', [join(root, 'packages/server/src/worker.ts')], root, environment, {
    endsWithUs: true,
  });
