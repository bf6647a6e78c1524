import type { Migration } from './migration';

/** What was measured of a cut, as set by hand. */
export const migration: Migration = {
  name: '0004-overrules',
  async up(sequelize, transaction) {
    await sequelize.query(`ALTER TABLE cuts ADD COLUMN overrules jsonb NOT NULL DEFAULT '{}'`, { transaction });
  },
  async down(sequelize, transaction) {
    await sequelize.query(`ALTER TABLE cuts DROP COLUMN overrules`, { transaction });
  },
};
