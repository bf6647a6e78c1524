import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pause, root } from './support';

// A folder that only its owner may enter, with a space in its name: where a careful person's clone may lie.
const data = join(mkdtempSync(join(tmpdir(), 'imprint start ')), 'my data');
const FIRST_PORT = 45180;
let running: ChildProcess[] = [];

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
async function start(): Promise<{ child: ChildProcess; said: string; url: string }> {
  const environment: NodeJS.ProcessEnv = { ...process.env, IMPRINT_DATA: data, PORT: String(FIRST_PORT) };
  delete environment.DATABASE_URL;
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
  if (!said.includes('http://')) throw new Error(`npm start did not come up:\n${said}`);
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

/** Process ids whose command line names the data folder or the first port's server. */
const left = (pid: number) => readIfThere(`/proc/${pid}/cmdline`) !== '';

describe('npm start', () => {
  let url: string;
  let child: ChildProcess;

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

  it('recovers when everything was killed', async () => {
    // The start script, its server and its database, as when the power goes.
    const pids = [child.pid!, ...childrenOf(child.pid!)];
    for (const pid of pids) process.kill(pid, 'SIGKILL');
    for (let waited = 0; waited < 5000 && pids.some(left); waited += 100) await pause(100);
    ({ child, url } = await start());
    expect(await titles(url)).toContain('Renamed');
  });

  it('recovers when only the start script was killed, and its children live on', async () => {
    process.kill(child.pid!, 'SIGKILL');
    await pause(300);
    ({ child, url } = await start());
    expect(await titles(url)).toContain('Renamed');
  });

  it('takes the next port when its own is busy', async () => {
    await stop(child, 'SIGTERM');
    await pause(300);
    // Not to keep the tests from ending, whatever happens here.
    const blocker = createServer().listen(FIRST_PORT, '127.0.0.1').unref();
    await once(blocker, 'listening');
    ({ child, url } = await start());
    expect(Number(new URL(url).port)).toBeGreaterThan(FIRST_PORT);
    expect(await answers(url)).toBe(true);
    blocker.close();
    await stop(child, 'SIGINT');
    running = [];
  });
});

/** All processes below one, by their parents. */
function childrenOf(pid: number): number[] {
  const direct = readIfThere(`/proc/${pid}/task/${pid}/children`).trim().split(/\s+/).filter(Boolean).map(Number);
  return [...direct, ...direct.flatMap(childrenOf)];
}
