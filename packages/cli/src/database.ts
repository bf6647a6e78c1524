import { fileURLToPath } from 'node:url';
import { InputError } from '@imprint/core/patch/inputError';
import { type Database, openDatabase, placeOf } from '@imprint/server/database';
import { createMigrator } from '@imprint/server/migrate';
import { isAway } from '@imprint/server/databaseFaults';

const root = fileURLToPath(new URL('../../..', import.meta.url));

interface OwnDatabase {
  url: string;
  close(): Promise<void>;
}

/** Gives an action the database of this clone, or of DATABASE_URL, brought up to date. */
export async function withDatabase<T>(action: (database: Database) => Promise<T>): Promise<T> {
  const own = await openOwn();
  try {
    const database = openDatabase(own.url);
    try {
      await createMigrator(database.sequelize).up();
      return await action(database);
    } catch (error) {
      if (!isAway(error)) throw error;
      throw new InputError(`${placeOf(own.url)} does not answer: ${(error as Error).message}.`);
    } finally {
      await database.sequelize.close();
    }
  } finally {
    await own.close();
  }
}

async function openOwn(): Promise<OwnDatabase> {
  const module = (await import(`${root}scripts/lib/ownDatabase.mjs`)) as {
    openOwnDatabase(root: string): Promise<OwnDatabase>;
  };
  return module.openOwnDatabase(root).catch((error: Error) => {
    throw new InputError(error.message);
  });
}
