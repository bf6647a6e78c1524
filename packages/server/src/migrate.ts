import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { Umzug, type UmzugStorage } from 'umzug';
import type { Migration } from './migrations/migration';
import { migration as studies } from './migrations/0001-studies';
import { migration as isolation } from './migrations/0002-isolation';
import { migration as overview } from './migrations/0003-overview';
import { migration as overrules } from './migrations/0004-overrules';
import { migration as shelf } from './migrations/0005-shelf';
import { migration as keeping } from './migrations/0006-keeping';
import { migration as revisions } from './migrations/0007-revisions';
import { migration as runs } from './migrations/0008-runs';
import { migration as blindTests } from './migrations/0009-blind-tests';

/** All migrations in order. */
const migrations: Migration[] = [studies, isolation, overview, overrules, shelf, keeping, revisions, runs, blindTests];

/**
 * Brings a database up or down. A migration and the note that it was done are one transaction, so one that is
 * interrupted is either done and noted or neither; programs that start at once wait for one another.
 */
export function createMigrator(sequelize: Sequelize) {
  const once = (migration: Migration, way: 'up' | 'down') => async () => {
    const { name } = migration;
    await sequelize.transaction(async (transaction) => {
      await sequelize.query('LOCK TABLE "SequelizeMeta" IN EXCLUSIVE MODE', { transaction });
      const isDone = (await namesDone(sequelize, transaction)).includes(name);
      if (isDone === (way === 'up')) return;
      await migration[way](sequelize, transaction);
      const note =
        way === 'up'
          ? `INSERT INTO "SequelizeMeta" (name) VALUES ('${name}')`
          : `DELETE FROM "SequelizeMeta" WHERE name = '${name}'`;
      await sequelize.query(note, { transaction });
    });
  };
  return new Umzug({
    migrations: migrations.map((migration) => ({
      name: migration.name,
      up: once(migration, 'up'),
      down: once(migration, 'down'),
    })),
    storage: storageIn(sequelize),
    logger: undefined,
  });
}

/** Only tells what was done; the migrations note it themselves. */
const storageIn = (sequelize: Sequelize): UmzugStorage => ({
  logMigration: async () => {},
  unlogMigration: async () => {},
  async executed() {
    // Two who make the same table at once would be in each other's way, "if not exists" or not: a lock of its
    // own.
    await sequelize.query(
      `BEGIN; SELECT pg_advisory_xact_lock(4180, 2);
       CREATE TABLE IF NOT EXISTS "SequelizeMeta" (name varchar(255) PRIMARY KEY); COMMIT;`,
    );
    return namesDone(sequelize);
  },
});

async function namesDone(sequelize: Sequelize, transaction?: Transaction): Promise<string[]> {
  const rows = await sequelize.query<{ name: string }>('SELECT name FROM "SequelizeMeta" ORDER BY name', {
    type: QueryTypes.SELECT,
    transaction,
  });
  return rows.map(({ name }) => name);
}
