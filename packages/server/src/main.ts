import type { Server, ServerResponse } from 'node:http';
import { pino } from 'pino';
import { InputError } from '@imprint/core/patch/inputError';
import { EVENT_STREAM } from './api/runFeed';
import { createApp } from './app';
import { type Database, openDatabase, placeOf } from './database';
import { isAway } from './databaseFaults';
import { loadDemo } from './demo';
import { createMigrator } from './migrate';
import { createPatientServer } from './slowRequests';
import { openQueue } from './runs/queue';
import { startUpkeep } from './upkeep';
import { openUploadFolder } from './uploads';

/**
 * Starts the server. Environment: DATABASE_URL; PORT (0 for any); WEB_FOLDER, the built page; DEMO_FOLDER,
 * the cues to load into a new database; DATABASE_FOLDER, where the database has its files. Prints one line of
 * JSON, `{"port":…}`, when it answers.
 */
const { DATABASE_URL, PORT = '4180', WEB_FOLDER, DEMO_FOLDER, DATABASE_FOLDER } = process.env;
const STOPPING_MS = 5000;

const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' }, pino.destination(2));
const uploads = openUploadFolder();
try {
  await start();
} catch (error) {
  uploads.close();
  process.stderr.write(`${inWords(error)}\n`);
  process.exit(error instanceof InputError ? 2 : 1);
}

async function start(): Promise<void> {
  if (!DATABASE_URL) throw new InputError('DATABASE_URL is not set. `npm start` sets it.');
  const port = Number(PORT);
  if (!(Number.isInteger(port) && port >= 0 && port <= 65535))
    throw new InputError(`PORT=${PORT} is no port; a whole number from 0 to 65535 is.`);
  const database = openDatabase(DATABASE_URL);
  await createMigrator(database.sequelize).up();
  // Only its tables are wanted here: runs are put into the queue with what else is written of them.
  await (await openQueue(DATABASE_URL, log)).close();
  if (DEMO_FOLDER) await loadDemo(database, DEMO_FOLDER);
  const endUpkeep = startUpkeep(database, log);
  const server = createPatientServer(
    createApp({
      database,
      log,
      uploadFolder: uploads.path,
      dataFolder: DATABASE_FOLDER || undefined,
      webFolder: WEB_FOLDER || undefined,
    }),
  );
  const answering = countAnswers(server);
  server.on('error', (error) => {
    process.stderr.write(`The server cannot answer on port ${port}: ${error.message}\n`);
    process.exit(1);
  });
  server.listen(port, '127.0.0.1', () => {
    const address = server.address();
    process.stdout.write(`${JSON.stringify({ port: typeof address === 'object' ? address?.port : port })}\n`);
  });
  const stop = once(() => {
    endUpkeep();
    void stopServer(server, database, answering);
  });
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}

/** Lets requests that are being answered finish, for a while. */
async function stopServer(server: Server, database: Database, answering: () => number): Promise<void> {
  const closed = new Promise((resolve) => server.close(resolve));
  const until = Date.now() + STOPPING_MS;
  // Browsers hold connections on which nothing was asked yet; they are not waited for.
  const watch = setInterval(() => {
    if (answering() === 0 || Date.now() > until) server.closeAllConnections();
  }, 50);
  await closed;
  clearInterval(watch);
  await database.sequelize.close().catch(() => undefined);
  uploads.close();
  process.exit(0);
}

/** How many requests are being answered; streams of events, which have no end, do not count. */
function countAnswers(server: Server): () => number {
  const open = new Set<ServerResponse>();
  server.on('request', (_request, response) => {
    open.add(response);
    response.once('close', () => open.delete(response));
  });
  return () => [...open].filter((response) => response.getHeader('Content-Type') !== EVENT_STREAM).length;
}

function once(action: () => void): () => void {
  let done = false;
  return () => {
    if (done) return;
    done = true;
    action();
  };
}

/** A person's mistake as a sentence; anything else with its trace, for who has to mend it. */
function inWords(error: unknown): string {
  if (error instanceof InputError) return error.message;
  const { name, message, stack } = error as Error;
  if (DATABASE_URL && (isAway(error) || /^Sequelize(Access|Host|Connection|Database)/.test(name))) {
    return `Imprint cannot use ${placeOf(DATABASE_URL)}: ${message || name}. DATABASE_URL names it; without DATABASE_URL \`npm start\` brings its own.`;
  }
  return stack ?? String(error);
}
