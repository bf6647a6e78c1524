import { mkdtempSync, rmSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeWav } from '@imprint/core/formats/wav';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { type Running, childrenOf, killNow, pause, readIfThere, startImprint } from './server';
import { createRandom } from '../../packages/core/test/signals';

const PORT = 46180;
/** Starts that did not come up at once. */
let failedStarts = 0;
const RATE = 44100;

/** What was acknowledged, and has to be there ever after. */
interface Acknowledged {
  titles: Map<string, string>;
  /** Number of the newest revision by study, and the name of its patch. */
  revisions: Map<string, { number: number; name: string }>;
}

/**
 * Kills the server, the database or all of it at random moments while studies are uploaded, renamed and
 * saved, and during first starts; after each kill everything that was acknowledged must be there. Prints what
 * was lost.
 */
export async function kills(count: number, seed = 1): Promise<boolean> {
  const random = createRandom(seed);
  const folder = mkdtempSync(join(tmpdir(), 'imprint-kills-'));
  const data = join(folder, 'data');
  const known: Acknowledged = { titles: new Map(), revisions: new Map() };
  let lost = 0;
  failedStarts = 0;
  const kinds: Record<string, number> = {};
  let running = await startOrFail(data);
  for (let i = 0; i < count; i++) {
    const kind = ['server', 'database', 'all', 'script', 'first start', 'start'][Math.floor(6 * random())];
    kinds[kind] = (kinds[kind] ?? 0) + 1;
    if (kind === 'first start') {
      if (!(await killFirstStart(join(folder, `fresh-${i}`), random))) failedStarts++;
      continue;
    }
    if (kind === 'start') {
      killAll(running);
      // A start that comes after a kill, and is killed itself: while it recovers, migrates or answers for the
      // first time.
      const begun = startImprint(data, PORT);
      await pause(2500 * random());
      for (const pid of childrenOf(process.pid)) if (isOf(pid, data) || isStart(pid)) killNow(pid);
      await begun;
      killLeftovers(data);
    } else {
      const stop = { now: false };
      const work = writeUntilRefused(running.url, known, random, stop);
      await pause(100 + 900 * random());
      killOne(running, kind);
      // A server whose start script was killed goes on answering.
      stop.now = true;
      await work;
    }
    if (kind !== 'server' && kind !== 'database') {
      killAll(running);
      running = await startOrFail(data);
    } else await untilHealthy(running);
    lost += await countLost(running.url, known);
    if (i % 20 === 19) console.log(`  ${i + 1} kills, ${known.titles.size} studies, ${lost} lost`);
  }
  killAll(running);
  killLeftovers(data);
  await pause(500);
  rmSync(folder, { recursive: true, force: true });
  const acknowledged = known.titles.size + [...known.revisions.values()].reduce((sum, { number }) => sum + number, 0);
  console.log(
    `kills: ${count} (${Object.entries(kinds)
      .map(([kind, n]) => `${kind} ${n}`)
      .join(', ')}); ${acknowledged} acknowledged writes, ${lost} lost, ${failedStarts} starts that failed`,
  );
  return lost === 0 && failedStarts === 0;
}

async function startOrFail(data: string): Promise<Running> {
  for (let attempt = 0; attempt < 3; attempt++) {
    const running = await startImprint(data, PORT);
    if (running.url && running.said().includes('Ctrl-C')) return running;
    failedStarts++;
    console.log(`  a start said: ${running.said().trim()}`);
    await pause(1000);
  }
  throw new Error('Imprint does not start any more.');
}

const isStart = (pid: number) => readIfThere(`/proc/${pid}/cmdline`).includes('scripts/start.mjs');
const isOf = (pid: number, data: string) => readIfThere(`/proc/${pid}/environ`).includes(`IMPRINT_DATA=${data}`);

function killOne({ child }: Running, kind: string): void {
  const below = childrenOf(child.pid!);
  const named = (words: string) => below.find((pid) => readIfThere(`/proc/${pid}/cmdline`).includes(words));
  if (kind === 'server') killNow(named('server/dist/main'));
  else if (kind === 'database') killNow(named('postgres\0-D'));
  else if (kind === 'script') killNow(child.pid!);
  else for (const pid of [child.pid!, ...below]) killNow(pid);
}

function killAll({ child }: Running): void {
  for (const pid of [child.pid!, ...childrenOf(child.pid!)]) killNow(pid);
}

/** What outlived the script that started it: nobody's children by now. */
function killLeftovers(data: string): void {
  for (const pid of childrenOf(1)) if (isOf(pid, data)) killNow(pid);
}

async function untilHealthy({ url }: Running): Promise<void> {
  for (let waited = 0; waited < 60_000; waited += 50) {
    const answer = await fetch(`${url}/api/health`).catch(() => null);
    if (answer?.ok) return;
    await pause(50);
  }
  throw new Error('The server or its database did not come back.');
}

const wav = (f0Hz: number) =>
  writeWav(
    {
      channels: [Float32Array.from({ length: RATE }, (_, i) => 0.3 * Math.sin((2 * Math.PI * f0Hz * i) / RATE))],
      sampleRateHz: RATE,
    },
    'int16',
  );

/** Makes studies and saves patches until a request fails; notes what was acknowledged. */
async function writeUntilRefused(
  url: string,
  known: Acknowledged,
  random: () => number,
  stop: { now: boolean },
): Promise<void> {
  try {
    for (let i = 0; !stop.now; i++) {
      const ids = [...known.titles.keys()];
      if (ids.length === 0 || random() < 0.2) {
        const form = new FormData();
        form.append('file', new Blob([wav(60 + 4000 * random()) as Uint8Array<ArrayBuffer>]), `Tone ${ids.length}.wav`);
        const answer = await fetch(`${url}/api/studies`, { method: 'POST', body: form });
        if (!answer.ok) return;
        const { study } = (await answer.json()) as { study: { id: string; title: string } };
        known.titles.set(study.id, study.title);
        continue;
      }
      const id = ids[Math.floor(ids.length * random())];
      const before = known.revisions.get(id);
      const name = `Patch ${i} ${Math.round(1e6 * random())}`;
      const body = { saveId: randomUUID(), base: before?.number ?? null, patch: { ...emptyPatch(), name } };
      const answer = await fetch(`${url}/api/studies/${id}/patch`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      });
      if (answer.status === 409) {
        // An earlier saving was kept, and the kill took its answer: what is there now counts.
        const { error } = (await answer.json()) as { error: { current: { number: number; name: string } } };
        known.revisions.set(id, { number: error.current.number, name: '' });
        continue;
      }
      if (!answer.ok) return;
      known.revisions.set(id, { number: ((await answer.json()) as { number: number }).number, name });
    }
  } catch {
    // The connection broke: nothing was acknowledged.
  }
}

async function countLost(url: string, known: Acknowledged): Promise<number> {
  const studies = (await (await fetch(`${url}/api/studies`)).json()) as { id: string; title: string }[];
  const titles = new Map(studies.map((study) => [study.id, study.title]));
  let lost = 0;
  for (const [id, title] of known.titles) if (titles.get(id) !== title) lost++;
  for (const [id, { number, name }] of known.revisions) {
    const kept = (await (await fetch(`${url}/api/studies/${id}/patch`)).json()) as {
      revision: { number: number };
      patch: { name: string };
    } | null;
    const same = kept?.revision.number === number && (name === '' || kept.patch.name === name);
    if (!kept || kept.revision.number < number || (kept.revision.number === number && !same)) lost++;
  }
  return lost;
}

/** Kills a first start at some moment, then starts again. False when that does not come up. */
async function killFirstStart(data: string, random: () => number): Promise<boolean> {
  const begun = startImprint(data, PORT + 20);
  await pause(3000 * random());
  for (const pid of childrenOf(process.pid)) if (isOf(pid, data)) killNow(pid);
  const first = await begun;
  killAll(first);
  killLeftovers(data);
  await pause(100);
  const again = await startImprint(data, PORT + 20);
  const isUp = again.said().includes('Ctrl-C') && (await fetch(`${again.url}/api/health`)).ok;
  if (!isUp) console.log(`  after a killed first start: ${again.said().trim()}`);
  killAll(again);
  killLeftovers(data);
  const elsewhere = /is in (\S+)/.exec(readIfThere(join(data, 'postgres/WHERE.txt')))?.[1];
  await pause(300);
  for (const path of [data, elsewhere]) if (path) rmSync(path, { recursive: true, force: true });
  return isUp;
}
