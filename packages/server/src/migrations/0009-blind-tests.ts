import type { Migration } from './migration';

/** Blind tests of one's own ears, an answer at a time. */
export const migration: Migration = {
  name: '0009-blind-tests',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      CREATE TABLE blind_tests (
        id uuid PRIMARY KEY,
        study_id uuid NOT NULL REFERENCES studies ON DELETE CASCADE,
        what text NOT NULL,
        planned integer NOT NULL,
        trials jsonb NOT NULL DEFAULT '[]',
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX blind_tests_of_study ON blind_tests (study_id, created_at DESC)`,
      { transaction },
    );
  },
  async down(sequelize, transaction) {
    await sequelize.query('DROP TABLE blind_tests', { transaction });
  },
};
