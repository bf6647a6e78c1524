import { mkdtempSync, chmodSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Client } from 'pg';
import { writeWav } from '@imprint/core/formats/wav';
import { createRandom } from '../packages/core/test/signals';
import { startPostgres } from '../scripts/lib/postgres.mjs';
import { startServer } from '../scripts/lib/server.mjs';
import { supervise } from '../scripts/lib/supervise.mjs';
import { startWorker } from '../scripts/lib/worker.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const RUNS = 20;
const STUDIES = 4;
const BUDGET_SECONDS = 6;
const KILLS = 12;
const LONGEST_MS = 20 * 60_000;
const RATE_HZ = 44100;

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/**
 * Twenty runs for two workers while workers, server and database are killed at random moments: every run has
 * to end with a result, and none twice. Prints how it went, and what a run takes in the database.
 */
export async function kills(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'imprint-kills-'));
  chmodSync(folder, 0o755);
  const random = createRandom(Number(process.env.SEED ?? 1));
  const running = new Map<string, StartedProgram>();
  const supervised: { stop(): Promise<void> }[] = [];
  const keep = async <T extends StartedProgram>(name: string, start: (before?: T) => Promise<T>): Promise<T> => {
    supervised.push(await supervise<T>(name, start, (program) => void running.set(name, program)));
    return running.get(name) as T;
  };
  const { url: databaseUrl } = await keep('database', (before?: StartedProgram & { url: string; port: number }) =>
    startPostgres(join(folder, 'postgres'), { port: before?.port }),
  );
  const environment = { DATABASE_URL: databaseUrl, PORT: '45999' };
  await keep('server', () => startServer(root, environment));
  const api = 'http://localhost:45999/api';
  for (const name of ['first worker', 'second worker'])
    await keep(name, () => startWorker(root, { DATABASE_URL: databaseUrl, WORKER_SLOTS: '1' }));

  const started = Date.now();
  for (let i = 0; i < RUNS; i++) await beginRun(api, i);
  let killed = 0;
  for (let waited = 0; waited < LONGEST_MS; waited += 2000) {
    await pause(2000);
    const open = await openRuns(databaseUrl);
    if (open === 0) break;
    if (killed === KILLS || random() > 0.35) continue;
    const names = [...running.keys()];
    const name = names[Math.floor(random() * names.length)];
    console.log(`${((Date.now() - started) / 1000).toFixed(0)} s: the ${name} is killed, ${open} runs are open`);
    if (kill(running.get(name)!.pid)) killed++;
  }
  await report(databaseUrl, killed, (Date.now() - started) / 1000);
  for (const { stop } of supervised.reverse()) await stop();
  rmSync(folder, { recursive: true, force: true });
}

/** False when it is gone already, and being started again. */
function kill(pid: number): boolean {
  try {
    return process.kill(pid, 'SIGKILL');
  } catch {
    return false;
  }
}

const studies: { id: string; cutId: string }[] = [];

async function beginRun(api: string, index: number): Promise<void> {
  const json = { 'Content-Type': 'application/json' };
  const post = async (path: string, body: object) =>
    (await (await fetch(api + path, { method: 'POST', headers: json, body: JSON.stringify(body) })).json()) as {
      id: string;
    };
  if (studies.length < STUDIES) {
    const form = new FormData();
    form.append('file', new Blob([toneWav(110 * (1 + studies.length)) as Uint8Array<ArrayBuffer>]), `${index}.wav`);
    const uploaded = await fetch(`${api}/studies`, { method: 'POST', body: form });
    const { study } = (await uploaded.json()) as { study: { id: string } };
    const cut = await post(`/studies/${study.id}/cuts`, {
      name: 'Note',
      role: 'long note',
      fromSeconds: 0,
      toSeconds: 1.5,
    });
    studies.push({ id: study.id, cutId: cut.id });
  }
  const { id, cutId } = studies[index % STUDIES];
  await post(`/studies/${id}/runs`, { cutIds: [cutId], structure: 'any', budgetSeconds: BUDGET_SECONDS });
}

/** A saw behind a closing low-pass of one pole. */
function toneWav(f0Hz: number): Uint8Array {
  let held = 0;
  const channel = Float32Array.from({ length: 1.6 * RATE_HZ }, (_, i) => {
    const seconds = i / RATE_HZ - 0.05;
    if (seconds < 0) return 0;
    const saw = 2 * ((f0Hz * seconds) % 1) - 1;
    held += (0.03 + 0.4 * Math.exp(-6 * seconds)) * (saw - held);
    return 0.4 * held * (seconds < 1.1 ? 1 : Math.exp(-30 * (seconds - 1.1)));
  });
  return writeWav({ channels: [channel], sampleRateHz: RATE_HZ }, 'int16');
}

async function withClient<T>(url: string, ask: (client: Client) => Promise<T>): Promise<T> {
  const client = new Client({ connectionString: url });
  client.on('error', () => undefined);
  await client.connect();
  return ask(client).finally(() => client.end());
}

/** As many as ever while the database is away. */
const openRuns = (url: string): Promise<number> =>
  withClient(url, async (client) => {
    const { rows } = await client.query<{ n: number }>(
      `SELECT count(*)::integer AS n FROM match_runs WHERE state IN ('waiting', 'running')`,
    );
    return rows[0].n;
  }).catch(() => RUNS);

async function report(url: string, killed: number, seconds: number): Promise<void> {
  await withClient(url, async (client) => {
    const { rows } = await client.query<{ state: string; attempts: number; results: number }>(
      `SELECT state, attempts, (SELECT count(*)::integer FROM match_candidates c WHERE c.run_id = r.id AND c.rank = 0)
         AS results FROM match_runs r`,
    );
    const { rows: sizes } = await client.query<{ run: number; candidates: number; blobs: number; jobs: number }>(
      `SELECT avg(pg_column_size(r.*))::integer AS run,
         (SELECT sum(pg_column_size(c.*))::integer FROM match_candidates c) / count(*) AS candidates,
         (SELECT coalesce(sum(b.byte_length), 0)::integer FROM blobs b WHERE b.id IN (SELECT blob_id FROM run_blobs))
           / count(*) AS blobs,
         (SELECT count(*)::integer FROM graphile_worker.jobs) AS jobs
       FROM match_runs r`,
    );
    const [size] = sizes;
    const done = rows.filter(({ state }) => state === 'done').length;
    const once = rows.filter(({ results }) => results === 1).length;
    const again = rows.filter(({ attempts }) => attempts > 1).length;
    console.log(`${done} of ${rows.length} runs done, ${once} with one result, after ${killed} kills; ${again} were`);
    console.log(`gone on with by another worker; ${seconds.toFixed(0)} s in all, ${size.jobs} jobs left`);
    console.log(`a run takes ${size.run} bytes, its candidates ${size.candidates}, their tables ${size.blobs}`);
  });
}
