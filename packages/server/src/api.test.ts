import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { z } from 'zod';
import { phraseOf } from '@imprint/core/matching/phrase';
import { printProof } from '@imprint/core/matching/proof';
import { writeWav } from '@imprint/core/formats/wav';
import { readTone } from '@imprint/core/reading/read';
import { OVERVIEW_VERSION } from '@imprint/core/reading/piece/overview';
import { NO_ISOLATION } from '@imprint/core/reading/isolation/settings';
import { effectSchema } from '@imprint/core/patch/schemas/effectSchema';
import { emptyPatch } from '@imprint/core/patch/defaults';
import {
  cutSchema,
  keptProofSchema,
  keptReadingSchema,
  openedStudySchema,
  revisionSchema,
  shelvedChainSchema,
  studySchema,
  uploadedSchema,
} from '@imprint/contract/api';
import { RATE, isSame, messageOf, nowhere, openApi, tone, wavOf } from '../test/api';
import { createDatabase, startServer } from '../test/testServer';
import { thorough } from '../../core/test/thorough';

const bellSound = { channels: [tone(220)], sampleRateHz: RATE };
const reading = readTone(bellSound);
const bell = { patch: emptyPatch('Bell'), notes: phraseOf(reading) };
const bellProof = printProof(bell.patch, bell.notes, { audio: bellSound, reading });

let api: Awaited<ReturnType<typeof openApi>>;

beforeAll(async () => {
  api = await openApi();
});
afterAll(() => api.close());

const call: typeof api.call = (...words) => api.call(...words);
const revisionsOf = async (studyId: string) =>
  z.array(revisionSchema).parse((await call('GET', `/studies/${studyId}/revisions`)).body);
const upload: typeof api.upload = (...words) => api.upload(...words);

describe('Studies and references', () => {
  it('takes a file, gives its bytes back unchanged, and recognises it the second time', async () => {
    const bytes = wavOf(110);
    const first = await upload(bytes, 'Ünderwater bell.wav');
    expect(first.status).toBe(201);
    const { study, alreadyKnown } = uploadedSchema.parse(first.body);
    expect(alreadyKnown).toBe(false);
    expect(study.title).toBe('Ünderwater bell');
    expect(study.reference).toMatchObject({
      format: 'WAV',
      sampleRateHz: RATE,
      channels: 1,
      durationSeconds: 1,
      byteLength: bytes.length,
      sha256: createHash('sha256').update(bytes).digest('hex'),
    });
    const audio = await fetch(`${api.server.url}/api/references/${study.reference.id}/audio`);
    expect(isSame(await audio.arrayBuffer(), bytes)).toBe(true);

    const second = uploadedSchema.parse((await upload(bytes, 'other name.wav')).body);
    expect(second).toMatchObject({ alreadyKnown: true, study: { id: study.id } });
    const again = uploadedSchema.parse((await upload(bytes, 'other name.wav', '?again')).body);
    expect(again.study.id).not.toBe(study.id);
    expect(again.study.reference.id).toBe(study.reference.id);
  });

  it('keeps files of several chunks whole', async () => {
    const noise = Float32Array.from({ length: 20 * RATE }, (_, i) => Math.sin(i * i) * 0.3);
    const bytes = writeWav({ channels: [noise], sampleRateHz: RATE }, 'float32');
    const { study } = uploadedSchema.parse((await upload(bytes, 'long.wav')).body);
    const audio = await fetch(`${api.server.url}/api/references/${study.reference.id}/audio`);
    expect(Buffer.from(await audio.arrayBuffer()).equals(Buffer.from(bytes))).toBe(true);
  });

  it.each([
    ['no sound', new TextEncoder().encode('hello'), 'not a sound file'],
    ['an empty file', new Uint8Array(0), 'empty'],
    ['a truncated file', wavOf(50).subarray(0, 9000), 'truncated'],
    ['a silent file', writeWav({ channels: [new Float32Array(RATE)], sampleRateHz: RATE }, 'int16'), 'silent'],
  ])('refuses %s, says why, and stores nothing', async (_name, bytes, message) => {
    const before = (await call('GET', '/studies')).body as unknown[];
    const { status, body } = await upload(bytes, 'bad.wav');
    expect(status).toBe(422);
    expect(messageOf(body).code).toBe('badFile');
    expect(messageOf(body).message).toContain(message);
    expect((await call('GET', '/studies')).body).toHaveLength(before.length);
  });

  it('renames and deletes; what is gone is a 404 that says so', async () => {
    const { study } = uploadedSchema.parse((await upload(wavOf(130), 'a.wav')).body);
    const renamed = await call('PATCH', `/studies/${study.id}`, { title: '  Brass key ' });
    expect(studySchema.parse(renamed.body).title).toBe('Brass key');
    expect((await call('PATCH', `/studies/${study.id}`, { title: '' })).status).toBe(400);
    expect((await call('DELETE', `/studies/${study.id}`)).status).toBe(204);
    const gone = await call('GET', `/studies/${study.id}`);
    expect(gone.status).toBe(404);
    expect(messageOf(gone.body).message).toContain('“Brass key” is in the trash');
    // The same file is a new study then; the one in the trash stays there.
    expect(uploadedSchema.parse((await upload(wavOf(130), 'a.wav')).body).alreadyKnown).toBe(false);
  });
});

it('keeps what is told of a whole reference for every study of it, and a study’s own beats', async () => {
  const { study } = uploadedSchema.parse((await upload(wavOf(146), 'piece.wav')).body);
  const opened = async () => openedStudySchema.parse((await call('GET', `/studies/${study.id}`)).body);
  expect((await opened()).overview).toBeNull();
  const overview = {
    version: OVERVIEW_VERSION,
    onsets: [0.1, 0.6],
    piece: { tempo: { bpm: 120, beatSeconds: 0.1, confidence: 0.8, others: [60] } },
    exposed: [],
    sections: [{ fromSeconds: 0, toSeconds: 1, letter: 'A', keys: [{ tonic: 'D', mode: 'minor' as const, fit: 0.8 }] }],
  };
  const path = `/references/${study.reference.id}/overview`;
  expect((await call('PUT', path, overview)).status).toBe(204);
  expect((await opened()).overview).toEqual(overview);
  expect((await call('PUT', path, { ...overview, onsets: ['soon'] })).status).toBe(400);
  expect((await call('PUT', `/references/${nowhere}/overview`, overview)).status).toBe(404);

  const grid = { bpm: 60, beatSeconds: 0.11 };
  expect(studySchema.parse((await call('PATCH', `/studies/${study.id}`, { grid })).body).grid).toEqual(grid);
  expect((await opened()).study).toMatchObject({ grid, title: study.title });
  const fast = await call('PATCH', `/studies/${study.id}`, { grid: { ...grid, bpm: 900 } });
  expect(messageOf(fast.body).message).toContain('between 20 and 400 BPM');
  await call('PATCH', `/studies/${study.id}`, { grid: null });
  expect((await opened()).study.grid).toBeNull();
});

describe('Cuts, readings, patches and proofs', () => {
  let studyId: string;
  beforeAll(async () => {
    studyId = uploadedSchema.parse((await upload(wavOf(220), 'job.wav')).body).study.id;
  });
  const cut = { name: 'One note', role: 'long note', fromSeconds: 0.05, toSeconds: 0.9 };
  const addCut = async () => ((await call('POST', `/studies/${studyId}/cuts`, cut)).body as { id: string }).id;

  it('checks a cut', async () => {
    expect((await call('POST', `/studies/${studyId}/cuts`, { ...cut, toSeconds: 0.06 })).status).toBe(400);
    const outside = await call('POST', `/studies/${studyId}/cuts`, { ...cut, toSeconds: 5 });
    expect(messageOf(outside.body).message).toContain('ends at 1.00 s');
    expect((await call('POST', `/studies/${nowhere}/cuts`, cut)).status).toBe(404);
  });

  it('keeps a reading until the cut moves', async () => {
    const id = await addCut();
    const kept = { fromSeconds: cut.fromSeconds, toSeconds: cut.toSeconds, reading };
    expect((await call('PUT', `/cuts/${id}/reading`, kept)).status).toBe(204);
    expect(keptReadingSchema.parse((await call('GET', `/cuts/${id}/reading`)).body)).toEqual(kept);
    await call('PATCH', `/cuts/${id}`, { toSeconds: 0.8 });
    expect((await call('GET', `/cuts/${id}/reading`)).body).toBeNull();
    const wrong = await call('PUT', `/cuts/${id}/reading`, { ...kept, reading: { version: 1 } });
    expect(messageOf(wrong.body).code).toBe('badRequest');
  });

  it('keeps values set by hand with a cut, within their ranges; the reading stays', async () => {
    const id = await addCut();
    await call('PUT', `/cuts/${id}/reading`, { fromSeconds: cut.fromSeconds, toSeconds: cut.toSeconds, reading });
    const overrules = { attackSeconds: 0.12, voices: 3 };
    expect(cutSchema.parse((await call('PATCH', `/cuts/${id}`, { overrules })).body).overrules).toEqual(overrules);
    expect((await call('GET', `/cuts/${id}/reading`)).body).not.toBeNull();
    const wrong = await call('PATCH', `/cuts/${id}`, { overrules: { cutoffHz: 90000 } });
    expect(wrong.status).toBe(400);
    expect(messageOf(wrong.body).message).toContain('Cutoff is from 20 to 20000 Hz');
    expect((await call('PATCH', `/cuts/${id}`, { overrules: {} })).body).toMatchObject({ overrules: {} });
  });

  it('keeps an isolation and corrected notes with a cut; another isolation needs another reading', async () => {
    const id = await addCut();
    const kept = { fromSeconds: cut.fromSeconds, toSeconds: cut.toSeconds, reading };
    await call('PUT', `/cuts/${id}/reading`, kept);
    const notes = reading.notes.map((note) => ({ ...note, midi: note.midi + 12 }));
    const corrected = cutSchema.parse((await call('PATCH', `/cuts/${id}`, { notes })).body);
    expect(corrected).toMatchObject({ ...cut, notes, isolation: null });
    expect((await call('GET', `/cuts/${id}/reading`)).body).not.toBeNull();

    const isolation = { ...NO_ISOLATION, band: { fromHz: 100, toHz: 900 } };
    expect((await call('PATCH', `/cuts/${id}`, { isolation })).body).toMatchObject({ isolation, notes });
    expect((await call('GET', `/cuts/${id}/reading`)).body).toBeNull();
    await call('PUT', `/cuts/${id}/reading`, kept);
    await call('PATCH', `/cuts/${id}`, { isolation, name: 'Same' });
    expect((await call('GET', `/cuts/${id}/reading`)).body).not.toBeNull();

    const wrong = await call('PATCH', `/cuts/${id}`, { isolation: { ...isolation, band: { fromHz: 900, toHz: 100 } } });
    expect(messageOf(wrong.body).message).toContain('upper edge');
    const opened = openedStudySchema.parse((await call('GET', `/studies/${studyId}`)).body);
    expect(opened.cuts.find((other) => other.id === id)).toMatchObject({ isolation, notes, name: 'Same' });
  });

  it('numbers revisions and gives each back', async () => {
    const save = (name: string | null, cents: number, base: number | null) => {
      const patch = emptyPatch('Bell');
      Object.assign(patch.layers[0].sources[0], { cents });
      return api.savePatch(studyId, patch, base, { name });
    };
    for (const [i, name] of [null, 'Kept', null, null].entries())
      expect((await save(name, i + 1, i === 0 ? null : i)).status).toBe(201);
    const revisions = await revisionsOf(studyId);
    // The last two were saved in one breath: they are one entry.
    expect(revisions.map(({ number, name, summary }) => [number, name, summary])).toEqual([
      [4, null, 'Saw, fine +2 ct → +4 ct'],
      [2, 'Kept', 'Saw, fine +1 ct → +2 ct'],
      [1, null, 'First patch'],
    ]);
    const oldest = (await call('GET', `/revisions/${revisions[2].id}`)).body as { patch: { name: string } };
    expect(oldest.patch.name).toBe('Bell');
    const opened = openedStudySchema.parse((await call('GET', `/studies/${studyId}`)).body);
    expect(opened.patch!.revision.number).toBe(4);
  });

  thorough.it(
    'makes one entry of savings without a pause between them, and keeps what is pinned, named or first',
    async () => {
      const { study } = uploadedSchema.parse((await api.upload(wavOf(77), 'revised.wav')).body);
      let base = 0;
      const save = async (secondsAgo: number) => {
        const patch = emptyPatch('Bell');
        Object.assign(patch.layers[0].sources[0], { semitones: (base % 60) + 1 });
        expect((await api.savePatch(study.id, patch, base || null)).status).toBe(201);
        base++;
        // As if it had been saved earlier.
        await api.query(
          `UPDATE patch_revisions SET created_at = created_at - interval '${secondsAgo} seconds',
         begun_at = begun_at - interval '${secondsAgo} seconds' WHERE number = ${base} AND patch_id =
         (SELECT id FROM patches WHERE study_id = '${study.id}')`,
        );
      };
      const numbers = async () => (await revisionsOf(study.id)).map(({ number }) => number);
      await save(0);
      await save(0);
      await save(20);
      expect(await numbers()).toEqual([3, 1]);
      // A pause of 20 s begins another entry, which takes two minutes at most.
      await save(10);
      expect(await numbers()).toEqual([4, 3, 1]);
      expect((await revisionsOf(study.id))[0].summary).toBe('Saw, semitones +3 st → +4 st');
      for (let i = 0; i < 11; i++) await save(10);
      await save(0);
      expect(await numbers()).toEqual([16, 15, 3, 1]);
      const [newest] = await revisionsOf(study.id);
      const pinned = await call('PATCH', `/revisions/${newest.id}`, { pinned: true });
      expect(pinned.body).toMatchObject({ number: 16, pinned: true });
      await save(0);
      expect(await numbers()).toEqual([17, 16, 15, 3, 1]);
      expect((await call('PATCH', `/revisions/${newest.id}`, { name: ' Good ' })).body).toMatchObject({ name: 'Good' });
      expect(messageOf((await call('PATCH', `/revisions/${newest.id}`, {})).body).message).toContain('"name"');
      // Sixty others come: what is kept for good is still there.
      for (let i = 0; i < 62; i++) await save(20);
      expect((await numbers()).slice(-2)).toEqual([16, 1]);
    },
  );

  it('refuses a patch that cannot play', async () => {
    const patch = emptyPatch();
    patch.layers[0].routes[0].from = 'nobody';
    const { status, body } = await api.savePatch(studyId, patch, 4);
    expect(status).toBe(422);
    expect(messageOf(body).message).toContain('comes from "nobody"');
  });

  it('keeps a proof with its sound, its gaps and its patch', async () => {
    const cutId = await addCut();
    const { patch, notes } = bell;
    const { audio, comparison } = bellProof;
    const wav = writeWav(audio, 'float32');
    const packed = await api.pack(patch);
    const keep = async (fields: object) => {
      const proof = JSON.stringify({ name: 'First', cutId, patch: packed, notes, comparison, ...fields });
      const { status, body } = await api.sendForm(`/studies/${studyId}/proofs`, { proof }, wav, 'proof.wav');
      return { status, body: body as { id: string } };
    };
    expect((await keep({ cutId: nowhere })).status).toBe(404);
    const { status, body } = await keep({});
    expect(status).toBe(201);
    const kept = keptProofSchema.parse((await call('GET', `/proofs/${body.id}`)).body);
    expect(kept.comparison).toEqual(comparison);
    expect(kept.patch).toEqual(JSON.parse(JSON.stringify(packed)));
    const sound = await fetch(`${api.server.url}/api/proofs/${body.id}/audio`);
    expect(isSame(await sound.arrayBuffer(), wav)).toBe(true);
    expect((await call('DELETE', `/proofs/${body.id}`)).status).toBe(204);
    expect((await call('GET', `/proofs/${body.id}`)).status).toBe(404);
  });

  it('keeps everything when it is stopped and started again', async () => {
    const before = (await call('GET', `/studies/${studyId}`)).body;
    await api.server.stop();
    await api.restart();
    expect((await call('GET', `/studies/${studyId}`)).body).toEqual(before);
  });

  it('keeps everything when it is killed', async () => {
    const before = (await call('GET', `/studies/${studyId}`)).body;
    api.server.process.kill('SIGKILL');
    await api.restart();
    expect((await call('GET', `/studies/${studyId}`)).body).toEqual(before);
  });
});

describe('The shelf of chains', () => {
  const chain = {
    name: 'Wet stone',
    purpose: 'for the cellar',
    effects: [effectSchema.parse({ kind: 'reverb', id: 'effect-1', rt60Seconds: 0.9 })],
  };
  const shelf = async () => shelvedChainSchema.array().parse((await call('GET', '/shelf/chains')).body);

  it('keeps a chain, gives it back as it was, and forgets it', async () => {
    const { status, body } = await call('POST', '/shelf/chains', chain);
    expect(status).toBe(201);
    const kept = shelvedChainSchema.parse(body);
    expect(kept).toMatchObject(chain);
    expect(await shelf()).toEqual([kept]);
    expect((await call('DELETE', `/shelf/chains/${kept.id}`)).status).toBe(204);
    expect(await shelf()).toEqual([]);
    expect((await call('DELETE', `/shelf/chains/${kept.id}`)).status).toBe(404);
  });

  it('refuses a second of the same name, one without effects, and one with numbers out of range', async () => {
    await call('POST', '/shelf/chains', chain);
    const again = await call('POST', '/shelf/chains', chain);
    expect(again.status).toBe(409);
    expect(messageOf(again.body).message).toContain('another name');
    expect((await call('POST', '/shelf/chains', { ...chain, name: 'Nothing', effects: [] })).status).toBe(400);
    const [reverb] = chain.effects;
    const endless = { ...chain, name: 'Endless', effects: [{ ...reverb, rt60Seconds: 1e6 }] };
    expect((await call('POST', '/shelf/chains', endless)).status).toBe(400);
    expect(await shelf()).toHaveLength(1);
  });
});

describe('Only this machine, only this page', () => {
  const ask = (headers: Record<string, string>) =>
    new Promise<number>((resolve, reject) => {
      const { port } = new URL(api.server.url);
      request({ host: '127.0.0.1', port, path: '/api/studies', headers }, (response) => {
        response.resume();
        resolve(response.statusCode!);
      })
        .on('error', reject)
        .end();
    });
  it('answers to its own names', async () => {
    const { host } = new URL(api.server.url);
    expect(await ask({ host })).toBe(200);
    expect(await ask({ host, origin: api.server.url })).toBe(200);
  });
  it('refuses another Host or Origin', async () => {
    const { host } = new URL(api.server.url);
    expect(await ask({ host: 'rebound.example' })).toBe(403);
    expect(await ask({ host, origin: 'http://elsewhere.example' })).toBe(403);
    expect(await ask({ host, origin: 'http://localhost:1' })).toBe(403);
    expect(await ask({ host, origin: 'null' })).toBe(403);
  });
  it('sets a strict content security policy', async () => {
    const { headers } = await fetch(`${api.server.url}/api/health`);
    expect(headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
  });
  it('has one error shape, also for what is no JSON and what is nowhere', async () => {
    const response = await fetch(`${api.server.url}/api/studies/${nowhere}`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: '{',
    });
    expect(messageOf(await response.json()).code).toBe('badRequest');
    expect(messageOf((await call('GET', '/nothing')).body).code).toBe('notFound');
  });
});

thorough.it('loads the demo once, and leaves it deleted when it was deleted', async () => {
  const own = await createDatabase();
  const environment = { DEMO_FOLDER: join(import.meta.dirname, '../../../demo/audio') };
  let demo = await startServer(own.url, environment);
  const list = async () => studySchema.array().parse(await (await fetch(`${demo.url}/api/studies`)).json());
  const studies = await list();
  expect(studies.map(({ role }) => role).toSorted()).toEqual(['bass', 'lead', 'pad', 'pluck']);
  expect(studies.every((study) => study.demo && study.cutCount === 1)).toBe(true);
  await fetch(`${demo.url}/api/studies/${studies[0].id}`, { method: 'DELETE' });
  await demo.stop();
  demo = await startServer(own.url, environment);
  expect(await list()).toHaveLength(3);
  await demo.stop();
  await own.drop();
});

it('has demo files of fifteen to thirty seconds with their settings', () => {
  const folder = join(import.meta.dirname, '../../../demo/audio');
  for (const id of ['lantern-stairs', 'gull-over-rail', 'harbour-fog', 'clockwork-tide']) {
    const { seconds } = JSON.parse(readFileSync(join(folder, `${id}.settings.json`), 'utf8')) as { seconds: number };
    expect(seconds).toBeGreaterThanOrEqual(15);
    expect(seconds).toBeLessThanOrEqual(30);
  }
});
