import { randomUUID } from 'node:crypto';
import { Client } from 'pg';
import {
  broughtBackSchema,
  cutSchema,
  openedStudySchema,
  pulseSchema,
  replacedSchema,
  studySchema,
  trashItemSchema,
} from '@imprint/contract/api';
import { emptyPatch } from '@imprint/core/patch/defaults';
import type { Patch } from '@imprint/core/patch/schema';
import { sampleFromChannels } from '@imprint/core/patch/contents/samplePcm';
import { wavetableFromSamples } from '@imprint/core/patch/contents/wavetableFrames';
import { messageOf, nowhere, openApi, wavOf } from '../test/api';
import { thorough } from '../../core/test/thorough';

let api: Awaited<ReturnType<typeof openApi>>;
beforeAll(async () => {
  api = await openApi();
});
afterAll(() => api.close());

const call: typeof api.call = (...words) => api.call(...words);
const open = async (id: string) => openedStudySchema.parse((await call('GET', `/studies/${id}`)).body);
const list = async () => studySchema.array().parse((await call('GET', '/studies')).body);
const trash = async () => trashItemSchema.array().parse((await call('GET', '/trash')).body);
const cut = { name: 'One note', role: 'long note', fromSeconds: 0.05, toSeconds: 0.9 };
const newCut = async (studyId: string, fields: object = {}) =>
  cutSchema.parse((await call('POST', `/studies/${studyId}/cuts`, { ...cut, ...fields })).body);

function named(name: string): Patch {
  return { ...emptyPatch(name), name };
}

describe('A saving of a patch', () => {
  it('names the revision that it is made on; of two made on the same one the second is refused', async () => {
    const id = await api.newStudy(111);
    expect((await api.savePatch(id, named('One'), null)).status).toBe(201);
    const both = await Promise.all([api.savePatch(id, named('Mine'), 1), api.savePatch(id, named('Theirs'), 1)]);
    expect(both.map(({ status }) => status).toSorted((a, b) => a - b)).toEqual([201, 409]);
    const refused = both.find(({ status }) => status === 409)!;
    expect(messageOf(refused.body).message).toContain('revision 2 came after 1');
    expect((await open(id)).patch!.revision.number).toBe(2);
    expect((await call('PUT', `/studies/${id}/patch`, { patch: named('No base') })).status).toBe(400);
  });

  it('is one revision however often it is sent', async () => {
    const id = await api.newStudy(112);
    const saveId = randomUUID();
    const patch = await api.pack(named('Again'));
    const send = () => call('PUT', `/studies/${id}/patch`, { saveId, base: null, patch });
    const [first, ...others] = await Promise.all([send(), send(), send()]);
    expect(first.status).toBe(201);
    for (const other of others) expect(other).toEqual(first);
    // Another one in between does not make it new.
    await api.savePatch(id, named('Later'), 1);
    expect(await send()).toEqual(first);
  });

  it('sends what changed, which gives the same patch', async () => {
    const id = await api.newStudy(113);
    await api.savePatch(id, named('Before'), null);
    const changes = [
      { op: 'replace', path: '/name', value: 'After' },
      { op: 'replace', path: '/layers/0/levelDb', value: -7.5 },
    ];
    const saved = await call('PUT', `/studies/${id}/patch`, { saveId: randomUUID(), base: 1, changes });
    expect(saved.status).toBe(201);
    const { patch } = (await open(id)).patch!;
    expect(patch).toMatchObject({ name: 'After', layers: [{ levelDb: -7.5 }] });
    const send = (change: object) =>
      call('PUT', `/studies/${id}/patch`, { saveId: randomUUID(), base: 2, changes: [change] });
    const nowhereIn = await send({ op: 'replace', path: '/layers/9/name', value: 'x' });
    expect(nowhereIn.status).toBe(400);
    expect(messageOf(nowhereIn.body).message).toContain('do not fit the revision');
    expect((await send({ op: 'replace', path: '/layers/0/levelDb', value: 900 })).status).toBe(422);
    expect((await send({ op: 'add', path: '/__proto__/polluted', value: true })).status).toBe(400);
    expect((await open(id)).patch!.revision.number).toBe(2);
  });
});

describe('Tables and samples', () => {
  thorough.it('of three 30-s stereo samples and eight full tables are kept, once', async () => {
    const id = await api.newStudy(114);
    const patch = emptyPatch('Large');
    const rate = 44100;
    const second = Float32Array.from({ length: 30 * rate }, (_, i) => Math.sin(i * i * 1e-4));
    for (let i = 0; i < 3; i++) {
      second[0] = i / 10;
      patch.samples.push(sampleFromChannels(`sample-${i}`, 'Rain', rate, [second, second]));
    }
    const frames = Float32Array.from({ length: 256 * 2048 }, (_, i) => Math.sin(i));
    for (let i = 0; i < 8; i++) {
      frames[0] = i / 10;
      patch.wavetables.push(wavetableFromSamples(`table-${i}`, 'Full', frames));
    }
    expect((await api.savePatch(id, patch, null)).status).toBe(201);
    const opened = await open(id);
    expect(JSON.stringify(opened.patch).length).toBeLessThan(10_000);
    const { frames: content } = opened.patch!.patch.wavetables[3];
    const bytes = await (await fetch(`${api.server.url}/api/contents/${content.sha256}`)).arrayBuffer();
    expect(bytes.byteLength).toBe(content.byteLength);
    expect(new DataView(bytes).getFloat32(0, true)).toBeCloseTo(0.3, 6);
    const asked = await call('POST', '/contents/missing', { sha256s: [content.sha256, 'a'.repeat(64)] });
    expect(asked.body).toEqual({ missing: ['a'.repeat(64)] });
  });

  it('that were never sent, are others, or are no numbers are refused', async () => {
    const id = await api.newStudy(115);
    const patch = emptyPatch('Wrong');
    patch.wavetables.push(wavetableFromSamples('table-1', 'Broken', new Float32Array(2048).fill(NaN)));
    const broken = await api.savePatch(id, patch, null);
    expect(broken.status).toBe(422);
    expect(messageOf(broken.body).message).toContain('no number');
    const packed = await api.pack(patch);
    packed.wavetables[0].frames.sha256 = 'b'.repeat(64);
    const unsent = await call('PUT', `/studies/${id}/patch`, { saveId: randomUUID(), base: null, patch: packed });
    expect(messageOf(unsent.body).message).toContain('bytes that were not sent');
    const other = await fetch(`${api.server.url}/api/contents/${'c'.repeat(64)}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: 'other bytes',
    });
    expect(other.status).toBe(400);
  });
});

describe('Changes of cuts and studies', () => {
  it('are refused when they were made on another state', async () => {
    const id = await api.newStudy(116);
    const { id: cutId, revision } = await newCut(id);
    const rename = (name: string) => call('PATCH', `/cuts/${cutId}`, { name, revision });
    expect((await rename('Mine')).body).toMatchObject({ name: 'Mine', revision: revision + 1 });
    const late = await rename('Theirs');
    expect(late.status).toBe(409);
    expect(messageOf(late.body).message).toContain('“Mine” was changed in another window');
    const study = (await open(id)).study;
    expect((await call('PATCH', `/studies/${id}`, { title: 'A', revision: study.revision })).status).toBe(200);
    expect((await call('PATCH', `/studies/${id}`, { title: 'B', revision: study.revision })).status).toBe(409);
  });

  it('a cut that the page names is made once', async () => {
    const id = await api.newStudy(117);
    const cutId = randomUUID();
    const [one, same] = await Promise.all([newCut(id, { id: cutId }), newCut(id, { id: cutId })]);
    expect(one).toEqual(same);
    expect((await open(id)).cuts).toHaveLength(1);
  });
});

it('tells windows of one another and of newer revisions', async () => {
  const id = await api.newStudy(118);
  const [mine, theirs] = [randomUUID(), randomUUID()];
  const pulse = async (windowId: string) =>
    pulseSchema.parse((await call('POST', `/studies/${id}/windows`, { windowId })).body);
  expect(await pulse(mine)).toEqual({ others: 0, revision: null });
  expect(await pulse(theirs)).toEqual({ others: 1, revision: null });
  await api.savePatch(id, named('New'), null);
  expect(await pulse(mine)).toEqual({ others: 1, revision: 1 });
  await call('DELETE', `/studies/${id}/windows/${theirs}`);
  expect(await pulse(mine)).toEqual({ others: 0, revision: 1 });
  expect((await call('POST', `/studies/${nowhere}/windows`, { windowId: mine })).status).toBe(404);
});

describe('The trash', () => {
  it('keeps studies and cuts until they are put back or deleted for good', async () => {
    const id = await api.newStudy(119, 'Rope ladder.wav');
    const { id: cutId } = await newCut(id);
    await call('DELETE', `/cuts/${cutId}`);
    expect((await open(id)).cuts).toEqual([]);
    expect(await trash()).toMatchObject([{ kind: 'cut', id: cutId, name: 'One note', studyTitle: 'Rope ladder' }]);
    expect((await call('PATCH', `/cuts/${cutId}`, { name: 'x' })).status).toBe(404);

    await call('DELETE', `/studies/${id}`);
    expect((await list()).some((study) => study.id === id)).toBe(false);
    const gone = await call('POST', `/trash/cut/${cutId}/back`);
    expect(gone.status).toBe(404);
    expect(messageOf(gone.body).message).toContain('“Rope ladder” is in the trash');
    for (const [method, path, body] of [
      ['PUT', `/studies/${id}/patch`, { saveId: randomUUID(), base: null, patch: await api.pack(named('x')) }],
      ['POST', `/studies/${id}/cuts`, cut],
      ['PATCH', `/studies/${id}`, { title: 'x' }],
    ] as const)
      expect((await call(method, path, body)).status).toBe(404);

    expect((await call('POST', `/trash/study/${id}/back`)).status).toBe(204);
    expect((await call('POST', `/trash/cut/${cutId}/back`)).status).toBe(204);
    expect((await open(id)).cuts).toHaveLength(1);
    await call('DELETE', `/studies/${id}`);
    expect((await call('DELETE', `/trash/study/${id}`)).status).toBe(204);
    expect((await call('POST', `/trash/study/${id}/back`)).status).toBe(404);
    expect((await call('DELETE', `/trash/pet/${id}`)).status).toBe(404);
  });

  it('is emptied of what has lain in it for 30 days, at the next start', async () => {
    const [old, young] = [await api.newStudy(120, 'Old.wav'), await api.newStudy(121, 'Young.wav')];
    for (const id of [old, young]) await call('DELETE', `/studies/${id}`);
    const client = new Client({ connectionString: api.database.url });
    await client.connect();
    await client.query(`UPDATE studies SET deleted_at = now() - interval '31 days' WHERE id = $1`, [old]);
    await client.query(`UPDATE blobs SET needed_at = now() - interval '2 days'`);
    await api.server.stop();
    await api.restart();
    for (let waited = 0; waited < 5000 && (await trash()).some(({ id }) => id === old); waited += 50)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect((await trash()).map(({ name }) => name)).toEqual(['Young']);
    // Its bytes went with it, those of the one in the trash did not.
    const { rows } = await client.query(
      `SELECT file_name FROM "references" WHERE file_name IN ('Old.wav', 'Young.wav')`,
    );
    expect(rows).toEqual([{ file_name: 'Young.wav' }]);
    await client.end();
    await call('DELETE', '/trash');
    expect(await trash()).toEqual([]);
  });
});

it('copies a study with its cuts, readings and a patch', async () => {
  const id = await api.newStudy(122, 'Kettle.wav');
  await newCut(id);
  const made = await call('POST', `/studies/${id}/copies`, {
    title: 'Kettle, mine',
    patch: await api.pack(named('M')),
  });
  expect(made.status).toBe(201);
  const copy = await open(studySchema.parse(made.body).id);
  expect(copy).toMatchObject({
    study: { title: 'Kettle, mine', demo: false, cutCount: 1 },
    cuts: [{ name: 'One note' }],
    patch: { revision: { number: 1 }, patch: { name: 'M' } },
  });
  expect(copy.cuts[0].id).not.toBe((await open(id)).cuts[0].id);
});

describe('An archive', () => {
  const take = async () => {
    const response = await fetch(`${api.server.url}/api/archive`);
    expect(response.headers.get('content-disposition')).toMatch(/imprint-\d{4}-\d\d-\d\d\.tar/);
    return new Uint8Array(await response.arrayBuffer());
  };
  const bringBack = async (bytes: Uint8Array) => {
    const response = await fetch(`${api.server.url}/api/archive`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/x-tar' },
      body: bytes as Uint8Array<ArrayBuffer>,
    });
    return { status: response.status, body: (await response.json()) as unknown };
  };
  const soundOf = async (id: string) => {
    const { reference } = (await open(id)).study;
    return new Uint8Array(await (await fetch(`${api.server.url}/api/references/${reference.id}/audio`)).arrayBuffer());
  };

  it('brings everything back as it was, in the place of what is there, which can be had back', async () => {
    const id = await api.newStudy(123, 'Anchor.wav');
    await newCut(id);
    const patch = named('Kept');
    patch.samples.push(sampleFromChannels('sample-1', 'Hit', 44100, [new Float32Array(500).fill(0.25)]));
    await api.savePatch(id, patch, null);
    await call('POST', '/shelf/chains', {
      name: 'Shelved',
      purpose: '',
      effects: emptyPatch().layers[0].effects.length ? [] : [{ kind: 'limiter', id: 'effect-1' }],
    });
    const before = await Promise.all([list(), open(id), trash(), call('GET', '/shelf/chains')]);
    const archive = await take();

    // Everything changes, then comes back.
    await call('PATCH', `/studies/${id}`, { title: 'Spoilt' });
    await call('DELETE', `/studies/${id}`);
    const later = await api.newStudy(124, 'Later.wav');
    const { status, body } = await bringBack(archive);
    expect(status).toBe(200);
    expect(broughtBackSchema.parse(body).studies).toBe(before[0].length);
    expect(await Promise.all([list(), open(id), trash(), call('GET', '/shelf/chains')])).toEqual(before);
    expect(await soundOf(id)).toEqual(wavOf(123));
    // The very same archive, byte for byte.
    expect(Buffer.from(await take()).equals(Buffer.from(archive))).toBe(true);

    expect(replacedSchema.parse((await call('GET', '/archive/replaced')).body).replacedAt).not.toBeNull();
    expect((await call('POST', '/archive/replaced/back')).status).toBe(200);
    expect((await list()).map((study) => study.id)).toContain(later);
    await call('POST', '/archive/replaced/back');
    expect(await open(id)).toEqual(before[1]);
  });

  it('that is cut off, damaged or none is refused in a sentence, and nothing changes', async () => {
    const archive = await take();
    const before = await list();
    const damaged = archive.slice();
    // In the bytes of the last sound, which stand before the last file.
    damaged[damaged.length - 6000] ^= 0xff;
    for (const [bytes, words] of [
      [archive.subarray(0, Math.round(archive.length / 2)), /cut off|damaged/],
      [archive.subarray(0, archive.length - 3000), /cut off|damaged/],
      [damaged, /not what they were/],
      [new TextEncoder().encode('no archive at all'), /no archive/],
      [new Uint8Array(0), /no archive/],
    ] as const) {
      const { status, body } = await bringBack(bytes);
      expect(status).toBe(422);
      expect(messageOf(body).message).toMatch(words);
    }
    expect(await list()).toEqual(before);
  });
});
