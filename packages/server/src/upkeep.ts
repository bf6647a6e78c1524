import type { Logger } from 'pino';
import { TRASH_DAYS } from '@imprint/contract/api';
import { emptyTrash } from './api/trash';
import { dropReplaced } from './archive/replace';
import type { Database } from './database';
import { inTransaction } from './transactions';

const EVERY_MS = 3_600_000;

/** Deletes for good, now and every hour, what has lain in the trash long enough. Returns what ends that. */
export function startUpkeep(database: Database, log: Logger): () => void {
  const run = () =>
    inTransaction(database, async (transaction) => {
      await emptyTrash(database, TRASH_DAYS, transaction);
      await dropReplaced(database, TRASH_DAYS, transaction);
    }).catch((error: unknown) => log.error({ error }, 'The trash could not be emptied; it is tried again in an hour.'));
  void run();
  const timer = setInterval(() => void run(), EVERY_MS);
  timer.unref();
  return () => clearInterval(timer);
}
