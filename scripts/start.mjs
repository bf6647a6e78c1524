#!/usr/bin/env node
/**
 * Sets up what is missing, starts the database and the server, keeps them running, and says where to look.
 * `--dev` adds live reloading.
 */
import { spawn } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { dataFolder, lockFile, writeAddress } from './lib/data.mjs';
import { takeLock } from './lib/lock.mjs';
import { SetupError, installNodePackages } from './lib/packages.mjs';
import { freePort, portOf } from './lib/ports.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { commandOf, identityOf, isRunning } from './lib/processes.mjs';
import { startServer } from './lib/server.mjs';
import { supervise } from './lib/supervise.mjs';
import { startWorker } from './lib/worker.mjs';
import { buildWeb } from './lib/webBuild.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const dev = process.argv.includes('--dev');
const data = dataFolder(root);
/** What runs, in the order of starting. */
const running = [];
let lock;
let databaseFolder = '';
let stopping = false;

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stopAll(0));

try {
  const firstPort = portOf(process.env.PORT ?? '4180', 'PORT');
  lock = takeLock(lockFile(data));
  if (lock.holder) {
    console.log(whereItRuns(lock.holder));
    process.exit(0);
  }
  await stopOldServer(lock.left?.server);
  await installNodePackages(root);
  const web = dev ? undefined : buildWeb(root);
  const databaseUrl = process.env.DATABASE_URL ?? (await startDatabase());
  const addressFile = writeAddress(data, databaseUrl);
  const port = await freePort(firstPort);
  const environment = {
    DATABASE_URL: databaseUrl,
    PORT: String(port),
    WEB_FOLDER: web ?? '',
    DEMO_FOLDER: join(root, 'demo/audio'),
    DATABASE_FOLDER: process.env.DATABASE_URL ? '' : databaseFolder,
  };
  const url = dev ? await startVite(port, firstPort) : `http://localhost:${port}`;
  running.push(
    await supervise(
      'server',
      () => startServer(root, environment, { watch: dev }),
      ({ pid }) => lock.write({ url, server: identityOf(pid), database: addressFile }),
    ),
  );
  running.push(await supervise('worker', () => startWorker(root, { DATABASE_URL: databaseUrl })));
  console.log(`Imprint is at ${url}\nCtrl-C stops it; nothing is lost.`);
} catch (error) {
  console.error(error instanceof SetupError ? error.message : error);
  await stopAll(1);
}

function whereItRuns({ url }) {
  return url
    ? `Imprint is running already, at ${url}`
    : 'Imprint is starting already, or its data are in use by a command.';
}

/**
 * A server whose start script was killed lives on, without a database soon; a database that lives on is found
 * by its own file.
 */
async function stopOldServer(server) {
  if (!isRunning(server) || !commandOf(server.pid).some((word) => word.includes('packages/server'))) return;
  process.kill(server.pid, 'SIGTERM');
  for (let waited = 0; waited < 7000 && isRunning(server); waited += 100)
    await new Promise((resolve) => setTimeout(resolve, 100));
  if (isRunning(server)) process.kill(server.pid, 'SIGKILL');
}

/** The database keeps its address however often it is started again, so that the server finds it. */
async function startDatabase() {
  let url;
  const start = (before) => startPostgres(join(data, 'postgres'), { port: before?.port });
  running.push(
    await supervise('database', start, (database) => {
      url = database.url;
      databaseFolder = database.home;
    }),
  );
  return url;
}

async function startVite(serverPort, firstPort) {
  const port = await freePort(firstPort + 100);
  const vite = spawn(
    process.execPath,
    [join(root, 'node_modules/vite/bin/vite.js'), '--port', String(port), '--strictPort'],
    {
      cwd: join(root, 'packages/web'),
      env: { ...process.env, IMPRINT_SERVER: `http://localhost:${serverPort}` },
      stdio: ['ignore', 'ignore', 'inherit'],
      detached: true,
    },
  );
  running.push({ stop: async () => vite.kill('SIGTERM') });
  return `http://localhost:${port}`;
}

/** Stops in the opposite order of starting, once. */
async function stopAll(code) {
  if (stopping) return;
  stopping = true;
  for (const { stop } of running.reverse()) await stop();
  lock?.release?.();
  process.exit(code);
}
