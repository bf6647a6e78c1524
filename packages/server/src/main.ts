import { createServer } from 'node:http';
import { pino } from 'pino';
import { createApp } from './app';
import { openDatabase } from './database';
import { loadDemo } from './demo';
import { createMigrator } from './migrate';

/**
 * Starts the server. Environment: DATABASE_URL; PORT (0 for any); WEB_FOLDER, the built page; DEMO_FOLDER, the cues to
 * load into a new database. Prints one line of JSON, `{"port":…}`, when it answers.
 */
const { DATABASE_URL, PORT = '4180', WEB_FOLDER, DEMO_FOLDER } = process.env;
const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' }, pino.destination(2));
if (!DATABASE_URL) throw new Error('DATABASE_URL is not set. `npm start` sets it.');

const database = openDatabase(DATABASE_URL);
await createMigrator(database.sequelize).up();
if (DEMO_FOLDER) await loadDemo(database, DEMO_FOLDER);

const server = createServer(createApp(database, log, WEB_FOLDER));
server.listen(Number(PORT), '127.0.0.1', () => {
  const address = server.address();
  process.stdout.write(`${JSON.stringify({ port: typeof address === 'object' ? address?.port : PORT })}\n`);
});

function stop(): void {
  server.close();
  server.closeAllConnections();
  void database.sequelize.close().finally(() => process.exit(0));
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
