import { join } from 'node:path';
import { startProgram } from './program.mjs';
import { buildServer } from './serverBuild.mjs';

/**
 * Starts a worker for matches and waits until it is ready. `exited` resolves when it ends, which it does with
 * this process, too.
 */
export const startWorker = async (root, environment) =>
  startProgram('worker', [join(await buildServer(root), 'worker.mjs')], root, environment, { endsWithUs: true });
