import { Sequelize } from 'sequelize';
import { defineModels } from './models/models';

/** Opens the database. Migrations are not run here; see migrate.ts. */
export function openDatabase(url: string) {
  const sequelize = new Sequelize(url, { logging: false, pool: { max: 8 } });
  return { sequelize, ...defineModels(sequelize) };
}

export type Database = ReturnType<typeof openDatabase>;
