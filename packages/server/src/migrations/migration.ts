import type { Sequelize, Transaction } from 'sequelize';

/** One step of the database's structure, and the way back, each within a transaction. */
export interface Migration {
  name: string;
  up(sequelize: Sequelize, transaction: Transaction): Promise<void>;
  down(sequelize: Sequelize, transaction: Transaction): Promise<void>;
}
