import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { Client } from 'pg';
import { pause, root } from './support';
import { some, thorough } from '../packages/core/test/thorough';

// A folder that only its owner may enter, with a space in its name: where a careful person's clone may lie.
const data = join(mkdtempSync(join(tmpdir(), 'imprint start ')), 'my data');
const FIRST_PORT = 45180;
const running: ChildProcess[] = [];

beforeAll(() => mkdirSync(data));
afterAll(async () => {
  for (const child of running) child.kill('SIGKILL');
  await pause(500);
  const file = join(data, 'postgres/WHERE.txt');
  // Elsewhere, when only root can enter the folder.
  const elsewhere = /is in (\S+)/.exec(readIfThere(file))?.[1];
  if (elsewhere) rmSync(elsewhere, { recursive: true, force: true });
  rmSync(join(data, '..'), { recursive: true, force: true });
});

const readIfThere = (path: string) => {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return '';
  }
};

/** Runs the start command and waits until it says where to look, or ends. */
async function start(
  others: NodeJS.ProcessEnv = {},
  { mustRun = true } = {},
): Promise<{ child: ChildProcess; said: string; url: string }> {
  const environment: NodeJS.ProcessEnv = { ...process.env, IMPRINT_DATA: data, PORT: String(FIRST_PORT) };
  delete environment.DATABASE_URL;
  Object.assign(environment, others);
  const child = spawn(process.execPath, [join(root, 'scripts/start.mjs')], { cwd: tmpdir(), env: environment });
  running.push(child);
  let said = '';
  child.stdout.on('data', (part: Buffer) => (said += part.toString()));
  child.stderr.on('data', (part: Buffer) => (said += part.toString()));
  for (
    let waited = 0;
    waited < 60_000 && child.exitCode === null && child.signalCode === null && !said.includes('Ctrl-C');
    waited += 100
  )
    await pause(100);
  if (mustRun && !said.includes('http://')) throw new Error(`npm start did not come up:\n${said}`);
  return { child, said, url: /http:\/\/localhost:\d+/.exec(said)?.[0] ?? '' };
}

async function stop(child: ChildProcess, signal: NodeJS.Signals): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = once(child, 'exit');
  child.kill(signal);
  await gone;
}

const titles = async (url: string) =>
  ((await (await fetch(`${url}/api/studies`)).json()) as { title: string }[]).map(({ title }) => title).sort();

const answers = (url: string) =>
  fetch(`${url}/api/health`).then(
    () => true,
    () => false,
  );

/** The status of the health check; 0 when nobody answers. */
const health = (url: string) =>
  fetch(`${url}/api/health`).then(
    ({ status }) => status,
    () => 0,
  );

async function until(done: () => Promise<boolean> | boolean, seconds = 30): Promise<void> {
  for (let waited = 0; waited < 1000 * seconds; waited += 50) {
    if (await done()) return;
    await pause(50);
  }
  throw new Error('This did not come about in time.');
}

/** The folder of the database, wherever it had to go. */
const home = () => /is in (\S+)/.exec(readIfThere(join(data, 'postgres/WHERE.txt')))?.[1] ?? join(data, 'postgres');
/** A line of the file that the database writes about itself: its number, folder, start and port. */
function ofPostmaster(line: number): number {
  const value = Number(readIfThere(join(home(), 'cluster/postmaster.pid')).split('\n')[line]);
  if (!(value > 1)) throw new Error('The database has no pid file.');
  return value;
}
const postmaster = () => ofPostmaster(0);
const postgresPort = () => ofPostmaster(3);

/** Process ids whose command line names the data folder or the first port's server. */
const left = (pid: number) => readIfThere(`/proc/${pid}/cmdline`) !== '';

describe('npm start', () => {
  let url: string;
  let child: ChildProcess;
  // What it started goes with it only when it is asked to stop.
  afterAll(() => stop(child, 'SIGINT'));

  it('sets up a database, loads the demo and says where to look', async () => {
    chmodSync(join(data, '..'), 0o700);
    ({ child, url } = await start());
    expect(url).toBe(`http://localhost:${FIRST_PORT}`);
    expect(await titles(url)).toEqual(['Clockwork tide', 'Gull over the rail', 'Harbour in fog', 'Lantern stairs']);
    const page = await fetch(url);
    expect(await page.text()).toContain('<div id="root">');
  });

  it('says so when it is started a second time', async () => {
    const second = await start();
    expect(second.said).toContain(`Imprint is running already, at ${url}`);
    expect(second.child.exitCode).toBe(0);
    expect(await answers(url)).toBe(true);
  });

  it('stops all that it started at Ctrl-C, and has everything when started again', async () => {
    const [study] = (await (await fetch(`${url}/api/studies`)).json()) as { id: string }[];
    await fetch(`${url}/api/studies/${study.id}`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ title: 'Renamed' }),
    });
    await stop(child, 'SIGINT');
    expect(child.exitCode).toBe(0);
    expect(await answers(url)).toBe(false);
    ({ child, url } = await start());
    expect(await titles(url)).toContain('Renamed');
  });

  thorough.it('recovers when everything was killed', async () => {
    // The start script, its server and its database, as when the power goes.
    const pids = [child.pid!, ...childrenOf(child.pid!)];
    for (const pid of pids) process.kill(pid, 'SIGKILL');
    for (let waited = 0; waited < 5000 && pids.some(left); waited += 100) await pause(100);
    ({ child, url } = await start());
    expect(await titles(url)).toContain('Renamed');
  });

  thorough.it('recovers when only the start script was killed, and its children live on', async () => {
    process.kill(child.pid!, 'SIGKILL');
    await pause(300);
    ({ child, url } = await start());
    expect(await titles(url)).toContain('Renamed');
  });

  it('lets nobody into the database without its password, and its role do no more than it needs', async () => {
    const port = postgresPort();
    for (const user of ['imprint', 'imprint_app', 'postgres']) {
      for (const database of ['imprint', 'postgres', 'template1']) {
        const client = new Client({ host: '127.0.0.1', port, user, database, password: 'guessed' });
        await expect(client.connect()).rejects.toThrow(/password authentication failed|no pg_hba.conf entry/);
      }
    }
    expect(statSync(join(home(), 'password')).mode & 0o077).toBe(0);
    expect(statSync(home()).mode & 0o077).toBe(0);
    const connectionString = readFileSync(join(data, 'database-address'), 'utf8');
    expect(statSync(join(data, 'database-address')).mode & 0o077).toBe(0);
    const client = new Client({ connectionString });
    await client.connect();
    for (const statement of [
      "COPY studies FROM PROGRAM 'id'",
      "SELECT pg_read_file('/etc/passwd')",
      "SELECT lo_import('/etc/passwd')",
      'CREATE ROLE another SUPERUSER',
      'CREATE DATABASE another',
      'ALTER ROLE imprint_app SUPERUSER',
    ])
      await expect(client.query(statement)).rejects.toThrow(/permission denied|must be superuser|must have/);
    await client.end();
  });

  thorough.it('brings a database back that died, at the same address, and says meanwhile that it is away', async () => {
    const before = postmaster();
    process.kill(before, 'SIGKILL');
    await until(async () => (await health(url)) !== 200);
    const { error } = (await (await fetch(`${url}/api/studies`)).json()) as {
      error: { code: string; message: string };
    };
    expect(error).toMatchObject({ code: 'away', message: expect.stringContaining('The database does not answer') });
    await until(async () => (await health(url)) === 200);
    expect(postmaster()).not.toBe(before);
    expect(await titles(url)).toContain('Renamed');
    expect(child.exitCode).toBeNull();
  });

  it('brings a server back that died', async () => {
    const server = childrenOf(child.pid!).find((pid) =>
      readIfThere(`/proc/${pid}/cmdline`).includes('server/dist/main'),
    )!;
    process.kill(server, 'SIGKILL');
    await until(async () => (await health(url)) !== 200);
    await until(async () => (await health(url)) === 200);
    expect(await titles(url)).toContain('Renamed');
  });

  thorough.it('writes an archive and brings it back from the command line, whether it runs or not', async () => {
    const environment = { ...process.env, IMPRINT_DATA: data };
    delete (environment as NodeJS.ProcessEnv).DATABASE_URL;
    // Beside this process, not in its place: sockets that the server closes have to be seen to close.
    const imprint = async (...words: string[]) => {
      const all = ['run', '-s', 'imprint', '--', ...words];
      return (await promisify(execFile)('npm', all, { cwd: root, env: environment })).stdout;
    };
    const file = join(data, 'all.tar');
    expect(await imprint('backup', file)).toContain('everything in the database');
    const before = await titles(url);
    const [study] = (await (await fetch(`${url}/api/studies`)).json()) as { id: string }[];
    await fetch(`${url}/api/studies/${study.id}`, { method: 'DELETE' });
    expect(await titles(url)).toHaveLength(before.length - 1);
    await stop(child, 'SIGINT');
    expect(JSON.parse(await imprint('restore', file, '--json'))).toMatchObject({ studies: before.length });
    ({ child, url } = await start());
    expect(await titles(url)).toEqual(before);
    const again = join(data, 'again.tar');
    await imprint('backup', again);
    expect(readFileSync(again).equals(readFileSync(file))).toBe(true);
    rmSync(file);
    rmSync(again);
  });

  thorough.it('does not touch a program whose number an old file names, whatever it calls itself', async () => {
    await stop(child, 'SIGINT');
    const words = ['-c', `exec -a "postgres -D ${join(home(), 'cluster')}" sleep 60`];
    const stranger = spawn('/bin/bash', words, { cwd: tmpdir() });
    await pause(100);
    const started = Math.round(Date.now() / 1000);
    writeFileSync(join(home(), 'cluster/postmaster.pid'), `${stranger.pid}\n${home()}/cluster\n${started}\n54180\n`);
    writeFileSync(
      join(data, 'running.json'),
      JSON.stringify({ pid: stranger.pid, started: '1', boot: 'x', server: { pid: stranger.pid } }),
    );
    ({ child, url } = await start());
    expect(await titles(url)).toContain('Renamed');
    expect(stranger.exitCode ?? stranger.signalCode).toBeNull();
    stranger.kill('SIGKILL');
  });

  thorough.it('runs once when it is started twice at the same time', async () => {
    await stop(child, 'SIGINT');
    const both = await Promise.all([start({}, { mustRun: false }), start({}, { mustRun: false })]);
    const [runs, other] = both[0].said.includes('Ctrl-C') ? both : [both[1], both[0]];
    expect(runs.said).toContain('Ctrl-C');
    expect(other.said).toMatch(/starting already|running already/);
    expect(other.child.exitCode).toBe(0);
    ({ child, url } = runs);
    expect(await answers(url)).toBe(true);
  });

  thorough.it('recovers from a first start that was killed while the database was made', async () => {
    const fresh = join(data, 'fresh');
    const others = { IMPRINT_DATA: fresh, PORT: String(FIRST_PORT + 50) };
    for (const afterMs of [400, 700, 1000]) {
      const environment: NodeJS.ProcessEnv = { ...process.env, ...others };
      delete environment.DATABASE_URL;
      const first = spawn(process.execPath, [join(root, 'scripts/start.mjs')], { cwd: tmpdir(), env: environment });
      running.push(first);
      await pause(afterMs);
      const pids = [first.pid!, ...childrenOf(first.pid!)];
      for (const pid of pids) if (left(pid)) process.kill(pid, 'SIGKILL');
    }
    const again = await start(others);
    expect(await titles(again.url)).toHaveLength(4);
    await stop(again.child, 'SIGINT');
    const elsewhere = /is in (\S+)/.exec(readIfThere(join(fresh, 'postgres/WHERE.txt')))?.[1];
    if (elsewhere) rmSync(elsewhere, { recursive: true, force: true });
  });

  some(1).it.each([
    ['a port that is none', { PORT: '99999' }, 'PORT=99999 is no port'],
    [
      'an address that is none',
      { DATABASE_URL: 'http://elsewhere' },
      'DATABASE_URL is no address of a PostgreSQL database',
    ],
    [
      'a database that is not there',
      { DATABASE_URL: 'postgres://a:b@127.0.0.1:9/none' },
      'the database "none" at 127.0.0.1, port 9',
    ],
    ['a folder that cannot be', { IMPRINT_DATA: '/proc/nothing/here' }, 'cannot be made or written to'],
  ])('says in a sentence what is wrong with %s', async (_name, others, words) => {
    const own = { IMPRINT_DATA: join(data, 'other'), PORT: String(FIRST_PORT + 60), ...others };
    const { child: ended, said } = await start(own, { mustRun: false });
    expect(ended.exitCode).toBe(1);
    expect(said).toContain(words);
    expect(said).not.toMatch(/^\s+at /m);
  });

  thorough.it('goes on when the file about the running one is broken', async () => {
    await stop(child, 'SIGTERM');
    writeFileSync(join(data, 'running.json'), '{"pid": 1');
    const begun = await start();
    ({ child, url } = begun);
    expect(begun.said).toContain('running.json could not be read; it is made anew.');
  });

  thorough.it('takes the next port when its own is busy', async () => {
    await stop(child, 'SIGTERM');
    await pause(300);
    // Not to keep the tests from ending, whatever happens here.
    const blocker = createServer().listen(FIRST_PORT, '127.0.0.1').unref();
    await once(blocker, 'listening');
    ({ child, url } = await start());
    expect(Number(new URL(url).port)).toBeGreaterThan(FIRST_PORT);
    expect(await answers(url)).toBe(true);
    blocker.close();
  });
});

/** All processes below one, by their parents. */
function childrenOf(pid: number): number[] {
  const direct = readIfThere(`/proc/${pid}/task/${pid}/children`).trim().split(/\s+/).filter(Boolean).map(Number);
  return [...direct, ...direct.flatMap(childrenOf)];
}
