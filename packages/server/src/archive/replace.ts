import { QueryTypes, type Transaction } from 'sequelize';
import type { Database } from '../database';
import { inTransaction, lock } from '../transactions';

/** Where the tables are that an archive was read into, and those that it replaced. */
export const INCOMING = 'incoming';
const REPLACED = 'replaced';

/** Puts the tables that were read from an archive in the place of those in use, which stay aside. */
export async function takeIn(database: Database): Promise<void> {
  await inTransaction(database, async (transaction) => {
    await lock(database, 'archive', 'alone', transaction);
    await database.sequelize.query(
      `DROP SCHEMA IF EXISTS ${REPLACED} CASCADE;
       ALTER SCHEMA public RENAME TO ${REPLACED};
       ALTER SCHEMA ${INCOMING} RENAME TO public;`,
      { transaction },
    );
    await noteTime(database, transaction);
  });
}

/**
 * Changes what is in use for what it replaced; a second time changes back. False where nothing was replaced.
 */
export async function changeBack(database: Database): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    await lock(database, 'archive', 'alone', transaction);
    if ((await replacedAt(database, transaction)) === null) return false;
    await database.sequelize.query(
      `ALTER SCHEMA public RENAME TO changing;
       ALTER SCHEMA ${REPLACED} RENAME TO public;
       ALTER SCHEMA changing RENAME TO ${REPLACED};`,
      { transaction },
    );
    await noteTime(database, transaction);
    return true;
  });
}

/** The schema's comment keeps when its tables were put aside: it has no row for that. */
const noteTime = ({ sequelize }: Database, transaction: Transaction) =>
  sequelize.query(`COMMENT ON SCHEMA ${REPLACED} IS '${new Date().toISOString()}'`, { transaction });

/** When what is in use took the place of something that is still there; null where there is none. */
export async function replacedAt({ sequelize }: Database, transaction?: Transaction): Promise<string | null> {
  const [row] = await sequelize.query<{ at: string | null }>(
    `SELECT obj_description(oid, 'pg_namespace') AS at FROM pg_namespace WHERE nspname = '${REPLACED}'`,
    { type: QueryTypes.SELECT, ...(transaction && { transaction }) },
  );
  return row?.at ?? null;
}

/** Deletes for good what was replaced that many days ago. */
export async function dropReplaced(database: Database, days: number, transaction: Transaction): Promise<void> {
  const at = await replacedAt(database, transaction);
  if (at === null || Date.now() - Date.parse(at) < days * 86_400_000) return;
  await database.sequelize.query(`DROP SCHEMA ${REPLACED} CASCADE`, { transaction });
}
