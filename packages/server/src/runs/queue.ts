import { Logger as QueueLogger, type WorkerUtils, makeWorkerUtils } from 'graphile-worker';
import { Pool } from 'pg';
import type { Logger } from 'pino';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Database } from '../database';

/** Name of the one kind of job there is. */
export const MATCH_TASK = 'match';

/** One listens for new runs; the others hand them out. */
const MOST_CONNECTIONS = 4;

export interface Queue {
  utils: WorkerUtils;
  pgPool: Pool;
  close: () => Promise<void>;
}

/** Opens the queue of a database, in tables of its own beside ours, which are made where they are missing. */
export async function openQueue(url: string, log: Logger): Promise<Queue> {
  const pgPool = new Pool({ connectionString: url, max: MOST_CONNECTIONS });
  // A connection that breaks while it rests is replaced when the next is wanted.
  const onError = (error: Error) => log.debug({ error }, 'A connection of the queue broke.');
  pgPool.on('error', onError).on('connect', (client) => client.on('error', onError));
  const utils = await makeWorkerUtils({ pgPool, logger: queueLogger(log) });
  await utils.migrate();
  return {
    utils,
    pgPool,
    async close() {
      await utils.release();
      await pgPool.end();
    },
  };
}

/** What the queue says of itself. That the database is away is told elsewhere, once. */
export const queueLogger = (log: Logger) => new QueueLogger(() => (_level, message) => log.debug(message));

/**
 * Puts a run into the queue, in the transaction that it is made in. A study's second run comes after the
 * first of every other study, so that nobody waits for all that one person has asked for.
 */
export async function enqueue(
  { sequelize }: Database,
  run: { id: string; studyId: string },
  transaction: Transaction,
): Promise<void> {
  await sequelize.query(
    `SELECT graphile_worker.add_job('${MATCH_TASK}', json_build_object('runId', :id), job_key := :id,
       priority := (SELECT count(*)::integer FROM match_runs
         WHERE study_id = :studyId AND id <> :id AND state IN ('waiting', 'running')))`,
    { replacements: { id: run.id, studyId: run.studyId }, type: QueryTypes.SELECT, transaction },
  );
}
