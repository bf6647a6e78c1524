import type { Migration } from './migration';

/** What of a cut is kept, and its notes as corrected by hand; null for all of it, and as found. */
export const migration: Migration = {
  name: '0002-isolation',
  async up(sequelize, transaction) {
    await sequelize.query('ALTER TABLE cuts ADD COLUMN isolation jsonb, ADD COLUMN notes jsonb;', { transaction });
  },
  async down(sequelize, transaction) {
    await sequelize.query('ALTER TABLE cuts DROP COLUMN isolation, DROP COLUMN notes;', { transaction });
  },
};
