import type { WorkerUtils } from 'graphile-worker';
import type { Logger } from 'pino';
import { QueryTypes } from 'sequelize';
import type { Database } from '../database';
import { inTransaction } from '../transactions';
import { GONE_AFTER } from './presence';
import { enqueue } from './queue';

const EVERY_MS = 3000;

/**
 * Looks every few seconds for runs whose worker is gone and for runs that are in no queue, and gives them to
 * the workers that are there. The table of runs is what counts; the queue only hands them out. Returns what
 * ends that.
 */
export function startRecovery(database: Database, queue: WorkerUtils, log: Logger): () => void {
  const run = () =>
    recoverRuns(database, queue).catch((error: unknown) => log.debug({ error }, 'Runs could not be looked after.'));
  void run();
  const timer = setInterval(() => void run(), EVERY_MS);
  return () => clearInterval(timer);
}

/** Once; see `startRecovery`. */
export async function recoverRuns(database: Database, queue: WorkerUtils): Promise<void> {
  // A worker says with every run that it is at it; a job that was only just taken has had no time for that.
  const orphaned = await database.sequelize.query<{ worker: string }>(
    `SELECT DISTINCT j.locked_by AS worker
     FROM graphile_worker.jobs j JOIN match_runs r ON r.id::text = j.key
     WHERE j.locked_at < now() - ${GONE_AFTER} AND coalesce(r.alive_at, r.created_at) < now() - ${GONE_AFTER}`,
    { type: QueryTypes.SELECT },
  );
  if (orphaned.length > 0) await queue.forceUnlockWorkers(orphaned.map(({ worker }) => worker));
  await inTransaction(database, async (transaction) => {
    const lost = await database.sequelize.query<{ id: string; studyId: string }>(
      `SELECT r.id, r.study_id AS "studyId" FROM match_runs r
       WHERE r.state IN ('waiting', 'running') AND coalesce(r.alive_at, r.created_at) < now() - ${GONE_AFTER}
         AND NOT EXISTS (SELECT 1 FROM graphile_worker.jobs j WHERE j.key = r.id::text AND j.attempts < j.max_attempts)
       FOR UPDATE OF r SKIP LOCKED`,
      { type: QueryTypes.SELECT, transaction },
    );
    for (const run of lost) await enqueue(database, run, transaction);
  });
}
