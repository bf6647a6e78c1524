import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chownSync, existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { SetupError, installDebianPackages } from './packages.mjs';

/** PostgreSQL refuses to run as root; Debian's package brings this user for it. */
const SERVICE_USER = 'postgres';

/**
 * A PostgreSQL cluster of the project's own, on loopback, reached by password-less login of one role.
 *
 * @param folder where its data lie; made when missing
 * @returns the address for DATABASE_URL, and `stop`, which resolves when it is down
 */
export async function startPostgres(folder) {
  const programs = findPrograms();
  const user = serviceUser();
  const home = reachableFolder(folder, user);
  const data = join(home, 'cluster');
  if (!existsSync(join(data, 'PG_VERSION'))) {
    rmSync(data, { recursive: true, force: true });
    const made = spawnSync(
      join(programs, 'initdb'),
      ['-D', data, '-U', 'imprint', '-A', 'trust', '-E', 'UTF8', '--locale=C', '-N'],
      {
        ...user,
        cwd: '/',
        encoding: 'utf8',
      },
    );
    if (made.status !== 0) throw new SetupError(`PostgreSQL could not set up its data folder:\n${made.stderr}`);
  }
  await stopLeftover(data);
  const port = await freePort(54180);
  const log = [];
  // No socket files: a long path would not fit, and loopback is all that is needed.
  const settings = [
    'listen_addresses=127.0.0.1',
    `port=${port}`,
    'unix_socket_directories=',
    'fsync=on',
    'max_connections=40',
  ];
  const server = spawn(join(programs, 'postgres'), ['-D', data, ...settings.flatMap((setting) => ['-c', setting])], {
    ...user,
    cwd: '/',
    stdio: ['ignore', 'ignore', 'pipe'],
    // Its own group: Ctrl-C goes to the start script, which stops the database last.
    detached: true,
  });
  server.stderr.on('data', (chunk) => {
    log.push(String(chunk));
    if (log.length > 50) log.shift();
  });
  let exited = false;
  const exit = new Promise((resolve) => server.once('exit', resolve)).then(() => (exited = true));
  const url = `postgres://imprint@127.0.0.1:${port}`;
  await waitUntilReady(programs, port, () => exited, log);
  const stop = async () => {
    if (exited) return;
    // SIGINT is PostgreSQL's fast shutdown: clients are let go, data are written.
    server.kill('SIGINT');
    await exit;
  };
  return { url: `${url}/postgres`, pid: server.pid, stop };
}

function findPrograms() {
  const found = searchPrograms();
  if (found) return found;
  // The package would start a cluster of its own on the usual port; nobody asked for that one.
  if (process.getuid?.() === 0) {
    mkdirSync('/etc/postgresql-common', { recursive: true });
    if (!existsSync('/etc/postgresql-common/createcluster.conf')) {
      writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
    }
  }
  installDebianPackages(['postgresql'], 'the database PostgreSQL');
  const installed = searchPrograms();
  if (!installed) throw new SetupError('PostgreSQL was installed, but its programs are not under /usr/lib/postgresql.');
  return installed;
}

function searchPrograms() {
  const root = '/usr/lib/postgresql';
  const versions = existsSync(root) ? readdirSync(root).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = versions.map((version) => join(root, version, 'bin'));
  return folders.find((folder) => existsSync(join(folder, 'initdb')) && existsSync(join(folder, 'postgres')));
}

/** Options for spawn: root hands the database to the service user, others run it themselves. */
function serviceUser() {
  if (process.getuid?.() !== 0) return {};
  const line = readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((row) => row.startsWith(`${SERVICE_USER}:`));
  if (!line)
    throw new SetupError(
      `As root, the database runs as the user "${SERVICE_USER}", who is missing. Type: adduser --system --group ${SERVICE_USER}`,
    );
  const [, , uid, gid] = line.split(':');
  return { uid: Number(uid), gid: Number(gid) };
}

/**
 * The folder itself where the database's user can get to it. A clone in a place that only root may enter (root's home, a
 * `mktemp -d`) keeps its database under /var/lib instead, one folder per clone.
 */
function reachableFolder(folder, user) {
  mkdirSync(folder, { recursive: true, mode: 0o755 });
  if (user.uid === undefined) return folder;
  const reachable = (path) => {
    chownSync(path, user.uid, user.gid);
    return spawnSync('/bin/sh', ['-c', 'test -x "$1" && test -w "$1"', 'sh', path], { ...user, cwd: '/' }).status === 0;
  };
  if (reachable(folder)) return folder;
  const elsewhere = join('/var/lib/imprint', createHash('sha256').update(folder).digest('hex').slice(0, 16));
  mkdirSync(elsewhere, { recursive: true, mode: 0o755 });
  if (!reachable(elsewhere)) throw new SetupError(`The database's user can enter neither ${folder} nor ${elsewhere}.`);
  writeFileSync(join(folder, 'WHERE.txt'), `Only root can enter this folder, so the database is in ${elsewhere}\n`);
  return elsewhere;
}

/**
 * A database that was left running, or was killed: its pid file is still there. A live one is asked to stop. The file of a dead
 * one is removed, since PostgreSQL takes a process that was killed but not yet reaped, or another one of its number, for itself.
 */
async function stopLeftover(data) {
  const file = join(data, 'postmaster.pid');
  if (!existsSync(file)) return;
  const pid = Number(readFileSync(file, 'utf8').split('\n')[0]);
  if (isPostgres(pid)) process.kill(pid, 'SIGINT');
  for (let waited = 0; waited < 10000 && isPostgres(pid); waited += 100) await pause(100);
  if (!isPostgres(pid)) rmSync(file, { force: true });
}

function isPostgres(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('postgres');
  } catch {
    return false;
  }
}

async function waitUntilReady(programs, port, hasExited, log) {
  for (let waited = 0; waited < 60000; waited += 100) {
    if (hasExited()) throw new SetupError(`PostgreSQL stopped while starting:\n${log.join('')}`);
    const { status } = spawnSync(join(programs, 'pg_isready'), ['-q', '-h', '127.0.0.1', '-p', String(port)]);
    if (status === 0) return;
    await pause(100);
  }
  throw new SetupError(`PostgreSQL did not answer within a minute:\n${log.join('')}`);
}

/** The first port from `first` on that nobody listens on. */
export async function freePort(first) {
  for (let port = first; port < first + 200; port++) if (await isFree(port)) return port;
  throw new SetupError(`No free port between ${first} and ${first + 200}.`);
}

function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}

const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));
