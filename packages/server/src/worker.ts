import { availableParallelism } from 'node:os';
import { run as startRunner } from 'graphile-worker';
import { pino } from 'pino';
import { z } from 'zod';
import { InputError } from '@imprint/core/patch/inputError';
import { openDatabase } from './database';
import { createMigrator } from './migrate';
import { announce } from './runs/presence';
import { MATCH_TASK, openQueue, queueLogger } from './runs/queue';
import { startRecovery } from './runs/recovery';
import { workOnRun } from './runs/workOnRun';
import { startMatchers } from './threads/matchers';

/**
 * Works on matches. Environment: DATABASE_URL; WORKER_SLOTS, how many at once; WORKER_GONE_SECONDS, after how
 * much silence the runs of another are taken over. Prints one line of JSON,
 * `{"slots":…}`, when it is ready. It needs nothing but the database, so it can run on any machine, and
 * several times.
 */
const { DATABASE_URL, WORKER_SLOTS } = process.env;
/** Work of others is not left waiting, however few cores there are. */
const LEAST_SLOTS = 2;
const STOPPING_MS = 4000;
/** The first moments belong to the server and to the page that opens. */
const WARM_UP_AFTER_MS = 8000;
const taskSchema = z.object({ runId: z.uuid() });

const log = pino({ level: process.env.LOG_LEVEL ?? 'warn', name: 'worker' }, pino.destination(2));
try {
  await start();
} catch (error) {
  const words = error instanceof InputError ? error.message : ((error as Error).stack ?? String(error));
  process.stderr.write(`${words}\n`);
  process.exit(error instanceof InputError ? 2 : 1);
}

async function start(): Promise<void> {
  if (!DATABASE_URL) throw new InputError('DATABASE_URL is not set; it names the database whose matches are wanted.');
  const slots = slotsFrom(WORKER_SLOTS);
  const database = openDatabase(DATABASE_URL);
  await createMigrator(database.sequelize).up();
  const queue = await openQueue(DATABASE_URL, log);
  const matchers = startMatchers(slots);
  // With a single thread, what comes meanwhile would wait for that.
  if (slots > 1)
    setTimeout(() => {
      matchers.warmUp().catch((error: unknown) => log.warn({ error }, 'A thread for matches did not get ready.'));
    }, WARM_UP_AFTER_MS);
  const stopping = new AbortController();
  const workshop = { database, matchers, log, stopping: stopping.signal };
  const runner = await startRunner({
    pgPool: queue.pgPool,
    concurrency: slots,
    noHandleSignals: true,
    logger: queueLogger(log),
    pollInterval: 1000,
    taskList: {
      [MATCH_TASK]: (payload, { job }) => workOnRun(taskSchema.parse(payload).runId, String(job.locked_by), workshop),
    },
  });
  const endPresence = announce(database, slots, log);
  const endRecovery = startRecovery(database, queue.utils, log);
  const stop = async (code: number) => {
    if (stopping.signal.aborted) return;
    stopping.abort();
    endRecovery();
    // What is being worked on goes back to the queue; a database that is away must not keep anyone waiting.
    const orderly = Promise.all([endPresence(), runner.stop()]).catch(() => undefined);
    await Promise.race([orderly, new Promise((resolve) => setTimeout(resolve, STOPPING_MS))]);
    process.exit(code);
  };
  // Ended by itself, it was started again by who looks after it.
  runner.promise.then(
    () => stop(1),
    () => stop(1),
  );
  // Whoever started it, and holds the other end of its channel, is gone.
  process.on('disconnect', () => void stop(0));
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => void stop(0));
  process.stdout.write(`${JSON.stringify({ slots })}\n`);
}

function slotsFrom(text: string | undefined): number {
  if (text === undefined) return Math.max(LEAST_SLOTS, Math.floor(availableParallelism() / 2));
  const slots = Number(text);
  if (!(Number.isInteger(slots) && slots >= 1 && slots <= 64))
    throw new InputError(`WORKER_SLOTS=${text}: a whole number from 1 to 64 is expected.`);
  return slots;
}
