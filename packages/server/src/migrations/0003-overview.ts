import type { Migration } from './migration';

/** What is told of a whole reference, and the beat grid as set by hand; null until there is one. */
export const migration: Migration = {
  name: '0003-overview',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      ALTER TABLE "references" ADD COLUMN overview jsonb;
      ALTER TABLE studies ADD COLUMN grid jsonb;
    `,
      { transaction },
    );
  },
  async down(sequelize, transaction) {
    await sequelize.query(
      `
      ALTER TABLE "references" DROP COLUMN overview;
      ALTER TABLE studies DROP COLUMN grid;
    `,
      { transaction },
    );
  },
};
