#!/usr/bin/env node
/**
 * Works on the matches of a database, on this machine for another: DATABASE_URL names it, WORKER_SLOTS says
 * how many matches at once. Needs nothing else, and ends with Ctrl-C; what it is at then goes back.
 */
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { SetupError, installNodePackages } from './lib/packages.mjs';
import { supervise } from './lib/supervise.mjs';
import { startWorker } from './lib/worker.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
let running;
let stopping = false;

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, async () => {
    if (stopping) return;
    stopping = true;
    await running?.stop();
    process.exit(0);
  });

try {
  if (!process.env.DATABASE_URL)
    throw new SetupError('DATABASE_URL is not set. It names the database whose matches are to be worked on.');
  await installNodePackages(root);
  running = await supervise(
    'worker',
    () => startWorker(root, {}),
    ({ slots }) => console.log(`Working on up to ${slots} matches at once. Ctrl-C stops it; nothing is lost.`),
  );
} catch (error) {
  console.error(error instanceof SetupError ? error.message : error);
  process.exit(1);
}
