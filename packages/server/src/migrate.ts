import type { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import type { Migration } from './migrations/migration';
import { migration as studies } from './migrations/0001-studies';
import { migration as isolation } from './migrations/0002-isolation';
import { migration as overview } from './migrations/0003-overview';
import { migration as overrules } from './migrations/0004-overrules';
import { migration as shelf } from './migrations/0005-shelf';

/** All migrations in order. */
const migrations: Migration[] = [studies, isolation, overview, overrules, shelf];

/** Brings a database up or down. Each migration runs in a statement of its own, which PostgreSQL makes all or nothing. */
export function createMigrator(sequelize: Sequelize) {
  return new Umzug({
    migrations: migrations.map(({ name, up, down }) => ({
      name,
      up: () => up(sequelize),
      down: () => down(sequelize),
    })),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
}
