import type { Migration } from './migration';

/** What changed with a revision, whether it is pinned, and when the entry that it stands for was begun. */
export const migration: Migration = {
  name: '0007-revisions',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      ALTER TABLE patch_revisions ADD COLUMN summary text, ADD COLUMN pinned boolean NOT NULL DEFAULT false,
        ADD COLUMN begun_at timestamptz;
      UPDATE patch_revisions SET begun_at = created_at;
      ALTER TABLE patch_revisions ALTER COLUMN begun_at SET NOT NULL, ALTER COLUMN begun_at SET DEFAULT now()`,
      { transaction },
    );
  },
  async down(sequelize, transaction) {
    await sequelize.query('ALTER TABLE patch_revisions DROP COLUMN summary, DROP COLUMN pinned, DROP COLUMN begun_at', {
      transaction,
    });
  },
};
