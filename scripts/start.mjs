#!/usr/bin/env node
/** Sets up what is missing, starts the database and the server, and says where to look. `--dev` adds live reloading. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { SetupError, installNodePackages } from './lib/packages.mjs';
import { freePort, startPostgres } from './lib/postgres.mjs';
import { startServer } from './lib/server.mjs';
import { buildWeb } from './lib/webBuild.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const dev = process.argv.includes('--dev');
const data = process.env.IMPRINT_DATA ?? join(root, 'data');
const runFile = join(data, 'running.json');
const firstPort = Number(process.env.PORT ?? 4180);
const running = [];
let stopping = false;

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stopAll(0));

try {
  checkAlone();
  installNodePackages(root);
  const web = dev ? undefined : buildWeb(root);
  const databaseUrl = process.env.DATABASE_URL ?? (await startDatabase());
  const server = await startServer(
    root,
    {
      DATABASE_URL: databaseUrl,
      PORT: String(await freePort(firstPort)),
      WEB_FOLDER: web ?? '',
      DEMO_FOLDER: join(root, 'demo/audio'),
    },
    { watch: dev },
  );
  running.push(server);
  server.exited.then(() => stopAll(1));
  const url = dev ? await startVite(server.port) : server.url;
  writeFileSync(runFile, JSON.stringify({ pid: process.pid, serverPid: server.pid, url }));
  console.log(`Imprint is at ${url}\nCtrl-C stops it; nothing is lost.`);
} catch (error) {
  console.error(error instanceof SetupError ? error.message : error);
  await stopAll(1);
}

/** Ends with a word when another start of this clone is running. */
function checkAlone() {
  mkdirSync(data, { recursive: true, mode: 0o755 });
  if (!existsSync(runFile)) return;
  const { pid, serverPid, url } = JSON.parse(readFileSync(runFile, 'utf8'));
  if (commandOf(pid).includes('start.mjs')) {
    console.log(`Imprint is running already, at ${url}`);
    process.exit(0);
  }
  // The script was killed and its server lives on, without a database soon; a database that lives on is found by its own file.
  if (commandOf(serverPid).includes('packages/server')) process.kill(serverPid, 'SIGKILL');
  rmSync(runFile);
}

function commandOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
}

async function startDatabase() {
  const postgres = await startPostgres(join(data, 'postgres'));
  running.push(postgres);
  return postgres.url;
}

async function startVite(serverPort) {
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
  rmSync(runFile, { force: true });
  process.exit(code);
}
