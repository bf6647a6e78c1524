import type { Transaction } from 'sequelize';
import type { Database } from './database';
import { isTransient } from './databaseFaults';

const TRIES = 5;

/**
 * Does everything of one request in one transaction: all of it is kept, or nothing. When another transaction
 * was in the way it is done anew, so `action` must do nothing that it would not do twice.
 */
export async function inTransaction<T>(
  { sequelize }: Database,
  action: (transaction: Transaction) => Promise<T>,
): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await sequelize.transaction(action);
    } catch (error) {
      if (attempt === TRIES || !isTransient(error)) throw error;
    }
  }
}

/** Names of the locks that stand for no row. */
const LOCKS = { blobs: 1, archive: 3 } as const;

/**
 * Waits for a lock that ends with the transaction. Those who begin to refer to blobs hold the one for them
 * together; who sweeps holds it alone.
 */
export async function lock(
  { sequelize }: Database,
  name: keyof typeof LOCKS,
  how: 'together' | 'alone',
  transaction: Transaction,
): Promise<void> {
  const call = how === 'alone' ? 'pg_advisory_xact_lock' : 'pg_advisory_xact_lock_shared';
  await sequelize.query(`SELECT ${call}(4180, ${LOCKS[name]})`, { transaction });
}
