import type { Sequelize } from 'sequelize';

/** One step of the database's structure, and the way back. */
export interface Migration {
  name: string;
  up(sequelize: Sequelize): Promise<void>;
  down(sequelize: Sequelize): Promise<void>;
}
