import { randomUUID } from 'node:crypto';
import { connect } from 'node:net';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openedStudySchema, studySchema, uploadedSchema } from '@imprint/contract/api';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { MAX_NAME } from '@imprint/core/patch/names';
import { inspectSound } from './import/inspectSound';
import { openUploadFolder } from './uploads';
import { messageOf, nowhere, openApi, wavOf } from '../test/api';
import { thorough } from '../../core/test/thorough';

let api: Awaited<ReturnType<typeof openApi>>;
beforeAll(async () => {
  api = await openApi({ WEB_FOLDER: join(import.meta.dirname, '../../web'), LOG_LEVEL: 'silent' });
});
afterAll(() => api.close());

const call: typeof api.call = (...words) => api.call(...words);
const list = async () => studySchema.array().parse((await call('GET', '/studies')).body);
const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/**
 * Sends bytes as they are and gives the first line of what comes back, or '' when the connection is closed
 * without one.
 */
function raw(text: string, { end = true } = {}): Promise<string> {
  return new Promise((resolve) => {
    const socket = connect(Number(new URL(api.server.url).port), '127.0.0.1');
    let answer = '';
    socket.on('data', (part) => (answer += part.toString()));
    socket.on('error', () => undefined);
    socket.on('close', () => resolve(answer.split('\r\n')[0]));
    socket.write(text.replaceAll('\n', '\r\n'));
    if (end) socket.end();
  });
}
const host = () => new URL(api.server.url).host;

describe('Names', () => {
  it.each([
    ['   .wav', 'Untitled study'],
    [`${'A very long name of a cue '.repeat(12)}.wav`, /^A very long name.{100,}…$/],
    ['tab\tand\u202eturned.wav', 'tab and turned'],
    ['.wav', '.wav'],
  ])('%j gives a study that lists, opens and takes a patch of its name', async (name, title) => {
    const { study } = uploadedSchema.parse((await api.upload(wavOf(97), name, '?again')).body);
    expect(study.title).toMatch(title);
    expect(study.title.length).toBeLessThanOrEqual(MAX_NAME);
    expect((await list()).some(({ id }) => id === study.id)).toBe(true);
    expect((await api.savePatch(study.id, { ...emptyPatch(), name: study.title }, null)).status).toBe(201);
    openedStudySchema.parse((await call('GET', `/studies/${study.id}`)).body);
  });

  it.each(['a\0b', 'half \ud800 a pair', '', '   ', 'x'.repeat(MAX_NAME + 1)])(
    '%j is refused in words',
    async (title) => {
      const id = await api.newStudy(98);
      const { status, body } = await call('PATCH', `/studies/${id}`, { title });
      expect(status).toBe(400);
      expect(messageOf(body).message).toMatch(/character/);
      expect((await call('PATCH', `/studies/${id}`, { note: 'n'.repeat(2001) })).status).toBe(400);
    },
  );
});

describe('Races', () => {
  it('the same file eight times at once is one study', async () => {
    const before = await list();
    const answers = await Promise.all(Array.from({ length: 8 }, () => api.upload(wavOf(61), 'same.wav')));
    expect(answers.map(({ status }) => status).toSorted((a, b) => a - b)).toEqual([
      200, 200, 200, 200, 200, 200, 200, 201,
    ]);
    expect(new Set(answers.map(({ body }) => uploadedSchema.parse(body).study.id)).size).toBe(1);
    expect(await list()).toHaveLength(before.length + 1);
  });

  it('uploads, deletes and saves of one study at once are each done or refused, never broken', async () => {
    for (let round = 0; round < 4; round++) {
      const id = await api.newStudy(62);
      const cut = { name: 'One', role: 'long note', fromSeconds: 0, toSeconds: 0.5 };
      const patch = await api.pack(emptyPatch());
      const answers = await Promise.all([
        api.upload(wavOf(62), 'same.wav'),
        call('DELETE', `/studies/${id}`),
        call('POST', `/studies/${id}/cuts`, cut),
        call('PUT', `/studies/${id}/patch`, { saveId: randomUUID(), base: null, patch }),
        call('DELETE', `/trash/study/${id}`),
        api.upload(wavOf(62), 'same.wav', '?again'),
        call('PATCH', `/studies/${id}`, { title: 'Other' }),
        call('DELETE', '/trash'),
      ]);
      for (const { status } of answers) expect([200, 201, 204, 404]).toContain(status);
    }
  });
});

describe('Requests that are wrong', () => {
  it.each([
    ['GET /api/studies/%E0%A4%A', 400],
    ['GET /%E0%A4%A', 400],
    ['GET /assets/nothing.js', 404],
    [`GET /api/studies/${nowhere}`, 404],
    ['GET /api/studies/x', 404],
    ['GET /api/proofs/x/audio', 404],
    ['GET /api/contents/x', 400],
    ['POST /api/studies', 400],
    [`POST /api/studies/${nowhere}/proofs`, 400],
    ['POST /api/trash/study/x/back', 404],
  ])('%s: %i', async (line, status) => {
    expect(await raw(`${line} HTTP/1.1\nHost: ${host()}\nConnection: close\n\n`, { end: false })).toContain(
      ` ${status} `,
    );
  });

  it.each([
    ['an unknown charset', 'application/json; charset=klingon', '{}', 415],
    ['an unknown encoding', 'application/json\nContent-Encoding: lzma', '{}', 415],
    ['broken gzip', 'application/json\nContent-Encoding: gzip', 'no gzip', 400],
    ['no JSON', 'application/json', '{', 400],
    ['a number for an object', 'application/json', '7', 400],
  ])('a body of %s', async (_name, type, body, status) => {
    const id = await api.newStudy(99);
    const head = `PATCH /api/studies/${id} HTTP/1.1\nHost: ${host()}\nConnection: close`;
    const answer = await raw(`${head}\nContent-Type: ${type}\nContent-Length: ${body.length}\n\n${body}`, {
      end: false,
    });
    expect(answer).toContain(` ${status} `);
  });

  it.each([
    ['without a boundary', 'multipart/form-data', 'x'],
    [
      'that breaks off',
      'multipart/form-data; boundary=b',
      '--b\r\nContent-Disposition: form-data; name="file"; filename="a"\r\n\r\nx',
    ],
    ['with a broken header', 'multipart/form-data; boundary=b', '--b\r\n\0\r\n\r\nx\r\n--b--\r\n'],
    [
      'in another field',
      'multipart/form-data; boundary=b',
      '--b\r\nContent-Disposition: form-data; name="other"; filename="a"\r\n\r\nx\r\n--b--\r\n',
    ],
  ])('a multipart body %s', async (_name, type, body) => {
    const response = await fetch(`${api.server.url}/api/studies`, {
      method: 'POST',
      headers: { 'Content-Type': type },
      body,
    });
    expect(response.status).toBe(400);
    messageOf(await response.json());
  });
});

thorough.it('goes on after downloads that are broken off', async () => {
  const long = new Float32Array(44100 * 60).map((_, i) => Math.sin(i * i * 1e-5));
  const { writeWav } = await import('@imprint/core/formats/wav');
  const bytes = writeWav({ channels: [long], sampleRateHz: 44100 }, 'int16');
  const { study } = uploadedSchema.parse((await api.upload(bytes, 'long.wav')).body);
  for (let i = 0; i < 20; i++) {
    const abort = new AbortController();
    const response = await fetch(`${api.server.url}/api/references/${study.reference.id}/audio`, {
      signal: abort.signal,
    });
    await response.body!.getReader().read();
    abort.abort();
  }
  // All connections to the database would be held by now.
  expect((await call('GET', '/studies')).status).toBe(200);
});

describe('Inspecting a sound', () => {
  const folder = mkdtempSync(join(tmpdir(), 'imprint-inspect-'));
  afterAll(() => rmSync(folder, { recursive: true }));
  const file = (name: string, bytes: Uint8Array) => {
    writeFileSync(join(folder, name), bytes);
    return join(folder, name);
  };

  thorough.it('reads a valid file on a machine that is too busy to hear of its end in order', async () => {
    const path = file('valid.wav', wavOf(70));
    for (let round = 0; round < 3; round++) {
      let done = false;
      const inspected = inspectSound(path).finally(() => (done = true));
      // The parent looks neither at messages nor at ends of processes for as long as this holds it up.
      while (!done) {
        const until = Date.now() + 700;
        while (Date.now() < until);
        await pause(1);
      }
      expect(await inspected).toMatchObject({ format: 'WAV', durationSeconds: 1 });
    }
  });

  it('ends one that takes too much memory or time, and says so', async () => {
    const path = file('valid.wav', wavOf(71));
    await expect(inspectSound(path, { seconds: 60, megabytes: 8 })).rejects.toThrow('more than 8 MB of memory');
    await expect(inspectSound(path, { seconds: 0.001, megabytes: 768 })).rejects.toThrow('more than 0.001 s');
    await expect(inspectSound(file('nothing', new Uint8Array(10)))).rejects.toThrow('not a sound file');
  });
});

it('takes away what killed uploads left behind, and nothing of others', () => {
  const parent = mkdtempSync(join(tmpdir(), 'imprint-uploads-test-'));
  const mine = openUploadFolder(parent);
  writeFileSync(join(mine.path, 'half a file'), 'x');
  const all = join(mine.path, '..');
  mkdirSync(join(all, '999999-1'));
  writeFileSync(join(all, '999999-1', 'left'), 'x');
  mkdirSync(join(all, `${process.pid}-1`));
  const again = openUploadFolder(parent);
  expect(readdirSync(all)).toHaveLength(1);
  expect(readdirSync(again.path)).toEqual(['half a file']);
  mine.close();
  expect(readdirSync(all)).toEqual([]);
  rmSync(parent, { recursive: true });
});
