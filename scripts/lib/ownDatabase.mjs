import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { dataFolder, lockFile } from './data.mjs';
import { holderOf, takeLock } from './lock.mjs';
import { startPostgres } from './postgres.mjs';

/**
 * The database of a clone, for a command: that which runs, or else its own, started for as long as it is
 * needed.
 *
 * @param {string} root folder of the clone
 * @returns {Promise<{ url: string, close(): Promise<void> }>}
 */
export async function openOwnDatabase(root) {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, close: async () => {} };
  const data = dataFolder(root);
  const lock = takeLock(lockFile(data));
  if (lock.holder) return { url: urlOfRunning(data, lock.holder), close: async () => {} };
  try {
    const postgres = await startPostgres(join(data, 'postgres'));
    return {
      url: postgres.url,
      async close() {
        await postgres.stop();
        lock.release();
      },
    };
  } catch (error) {
    lock.release();
    throw error;
  }
}

/**
 * The address of the database that `npm start` runs: what it wrote down for those who may read its password.
 */
function urlOfRunning(data, holder) {
  const { database } = holderOf(lockFile(data)) ?? holder;
  if (!database) throw new Error('Imprint is just starting. Wait until it says where it is, then do this again.');
  return readFileSync(database, 'utf8').trim();
}
