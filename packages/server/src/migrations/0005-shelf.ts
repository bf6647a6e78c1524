import type { Migration } from './migration';

/** What is kept for other studies: chains of effects. */
export const migration: Migration = {
  name: '0005-shelf',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      CREATE TABLE shelf_chains (
        id uuid PRIMARY KEY,
        name text NOT NULL UNIQUE,
        purpose text NOT NULL,
        effects jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      )`,
      { transaction },
    );
  },
  async down(sequelize, transaction) {
    await sequelize.query('DROP TABLE shelf_chains', { transaction });
  },
};
