import type { Migration } from './migration';

/** What chains on the shelf call by older names; patches are brought up when they are read. */
const renamed = [
  ['"kind": "phasing"', '"kind": "phaser"'],
  ['"curve": "sineFold"', '"curve": "roundFold"'],
  ['"curve": "fold"', '"curve": "straightFold"'],
];
const shelfWith = (names: readonly (readonly string[])[]) =>
  names.reduce((text, [from, to]) => `replace(${text}, '${from}', '${to}')`, 'effects::text');

/** What changed with a revision, whether it is pinned, and when the entry that it stands for was begun. */
export const migration: Migration = {
  name: '0007-revisions',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      ALTER TABLE patch_revisions ADD COLUMN summary text, ADD COLUMN pinned boolean NOT NULL DEFAULT false,
        ADD COLUMN begun_at timestamptz;
      UPDATE patch_revisions SET begun_at = created_at;
      ALTER TABLE patch_revisions ALTER COLUMN begun_at SET NOT NULL, ALTER COLUMN begun_at SET DEFAULT now();
      UPDATE shelf_chains SET effects = ${shelfWith(renamed)}::jsonb`,
      { transaction },
    );
  },
  async down(sequelize, transaction) {
    await sequelize.query(
      `ALTER TABLE patch_revisions DROP COLUMN summary, DROP COLUMN pinned, DROP COLUMN begun_at;
       UPDATE shelf_chains SET effects = ${shelfWith(renamed.map(([from, to]) => [to, from]))}::jsonb`,
      { transaction },
    );
  },
};
