import { spawnSync } from 'node:child_process';
import { Buffer } from 'node:buffer';
import { createHash, randomBytes } from 'node:crypto';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { SetupError } from './packages.mjs';

/**
 * The files of a PostgreSQL cluster: made beside their place and put there when complete, and closed to
 * everybody but one role with a password. Its superuser cannot log in at all; what needs one is done in
 * PostgreSQL's single-user mode, which asks for the files themselves.
 */

const SUPERUSER = 'imprint';
export const ROLE = 'imprint_app';
export const DATABASE = 'imprint';
/** Says that roles and passwords of a cluster are as they should be, and of which password. */
const SECURED = 'imprint-secured';

/**
 * @param programs folder of PostgreSQL's programs
 * @param user options for spawn of who runs the database
 * @param home folder that the cluster stands in
 * @param mayCreateDatabases whether the role may make databases beside its own, as tests do
 * @returns the folder of the cluster and the role's password
 */
export function prepareCluster(programs, user, home, mayCreateDatabases) {
  const cluster = join(home, 'cluster');
  const password = passwordOf(home);
  sweepUnfinished(home);
  if (!existsSync(join(cluster, 'PG_VERSION'))) {
    rmSync(cluster, { recursive: true, force: true });
    // Made under another name: one that was interrupted is then never taken for a whole one.
    const part = join(home, `cluster.part-${randomBytes(6).toString('hex')}`);
    run(programs, user, 'initdb', ['-D', part, '-U', SUPERUSER, '-A', 'reject', '-E', 'UTF8', '--locale=C', '-N']);
    secure(programs, user, part, password, mayCreateDatabases);
    renameSync(part, cluster);
  } else secure(programs, user, cluster, password, mayCreateDatabases);
  return { cluster, password };
}

/** The password of the role: random, in a file that only its owner can read. */
function passwordOf(home) {
  const file = join(home, 'password');
  if (!existsSync(file)) {
    const part = `${file}.part`;
    rmSync(part, { force: true });
    writeFileSync(part, randomBytes(24).toString('base64url'), { mode: 0o600, flag: 'wx' });
    renameSync(part, file);
  }
  chmodSync(file, 0o600);
  return readFileSync(file, 'utf8').trim();
}

function sweepUnfinished(home) {
  for (const name of readdirSync(home)) {
    if (!name.startsWith('cluster.part-')) continue;
    try {
      rmSync(join(home, name), { recursive: true, force: true });
    } catch {
      // Its initdb outlived the start that was killed and still writes; the next start takes it away.
    }
  }
}

/**
 * Brings roles, owners and the list of who may connect to what they should be; clusters of earlier versions,
 * too.
 */
function secure(programs, user, cluster, password, mayCreateDatabases) {
  writeAs(user, join(cluster, 'pg_hba.conf'), hostRules(mayCreateDatabases));
  const marker = join(cluster, SECURED);
  const state = createHash('sha256').update(`1 ${mayCreateDatabases} ${password}`).digest('hex');
  if (existsSync(marker) && readFileSync(marker, 'utf8') === state) return;
  const single = (database, ...statements) => singleUser(programs, user, cluster, database, statements);
  const rights = `LOGIN NOSUPERUSER NOCREATEROLE NOREPLICATION NOBYPASSRLS ${mayCreateDatabases ? 'CREATEDB' : 'NOCREATEDB'}`;
  single(
    'template1',
    `DO $$ BEGIN
       IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '${ROLE}') THEN CREATE ROLE ${ROLE}; END IF;
     END $$`,
    `ALTER ROLE ${ROLE} ${rights} PASSWORD '${password}'`,
  );
  const databases = single('template1', 'SELECT datname FROM pg_database');
  if (!databases.includes(`"${DATABASE}"`)) {
    // Clusters of earlier versions have their tables in the database "postgres".
    single(
      'template1',
      databases.includes('"postgres"') && hasStudies(single)
        ? `ALTER DATABASE postgres RENAME TO ${DATABASE}`
        : `CREATE DATABASE ${DATABASE}`,
    );
  }
  single('template1', `ALTER DATABASE ${DATABASE} OWNER TO ${ROLE}`);
  single(
    DATABASE,
    `DO $$ DECLARE it record; BEGIN
       FOR it IN SELECT c.oid::regclass AS name FROM pg_class c
         WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'v') LOOP
         EXECUTE format('ALTER TABLE %s OWNER TO ${ROLE}', it.name);
       END LOOP;
     END $$`,
  );
  writeAs(user, marker, state);
}

const hasStudies = (single) =>
  single('postgres', "SELECT relname FROM pg_class WHERE relname = 'studies'").includes('"studies"');

const hostRules = (mayCreateDatabases) => {
  const databases = mayCreateDatabases ? 'all' : DATABASE;
  return `# Written at every start. Who is not named here does not get in; the superuser is not.
local ${databases} ${ROLE} scram-sha-256
host ${databases} ${ROLE} 127.0.0.1/32 scram-sha-256
`;
};

/** Runs SQL without any server; returns what PostgreSQL printed. */
function singleUser(programs, user, cluster, database, statements) {
  const words = ['--single', '-j', '-D', cluster, '-c', 'log_min_messages=error', '-c', 'exit_on_error=on', database];
  // With -j a statement ends at a semicolon before an empty line.
  return run(programs, user, 'postgres', words, statements.map((statement) => `${statement};\n\n`).join(''));
}

function run(programs, user, program, words, input = '') {
  const { status, stdout, stderr, error } = spawnSync(join(programs, program), words, {
    ...user,
    cwd: '/',
    encoding: 'utf8',
    input,
  });
  if (status === 0 && !/^[^\n]*(ERROR|FATAL): /m.test(stderr)) return stdout;
  throw new SetupError(`PostgreSQL could not set up its data folder:\n${error?.message ?? stderr}`);
}

/** Writes a file of the cluster's at once, owned by who runs the database. */
function writeAs(user, path, content) {
  const part = `${path}.part`;
  writeFileSync(part, content, { mode: 0o600 });
  if (user.uid !== undefined) chownSync(part, user.uid, user.gid);
  renameSync(part, path);
}

/**
 * The folder for the socket file, which only its owner can enter; undefined where its path would be too long.
 */
export function socketFolder(user, home, port) {
  const folder = join(home, 'socket');
  // A socket's address holds 108 bytes with its last zero (unix(7)).
  if (Buffer.byteLength(`${folder}/.s.PGSQL.${port}`) > 107 || /[,"\\]/.test(folder)) return undefined;
  // Files of a database that was killed; one that runs was stopped before.
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { mode: 0o700 });
  if (user.uid !== undefined) chownSync(folder, user.uid, user.gid);
  chmodSync(folder, 0o700);
  return folder;
}
