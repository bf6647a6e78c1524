import { randomUUID } from 'node:crypto';
import { Client } from 'pg';
import type { Patch } from '@imprint/core/patch/schema';
import { type PackedPatch, packPatch } from '@imprint/core/patch/contents/packing';
import { bytesFromBase64 } from '@imprint/core/patch/contents/base64';
import { writeWav } from '@imprint/core/formats/wav';
import { errorSchema, uploadedSchema } from '@imprint/contract/api';
import { contentOfBytes } from '../src/blobs';
import { type TestServer, createDatabase, startServer } from './testServer';

export const nowhere = '00000000-0000-4000-8000-000000000000';
export const RATE = 44100;

/** A plucked tone of two partials after a tenth of silence. */
export const tone = (f0Hz: number, seconds = 1) =>
  Float32Array.from({ length: seconds * RATE }, (_, i) => {
    const t = i / RATE;
    const level = t < 0.1 ? 0 : Math.min(1, (t - 0.1) / 0.01) * Math.exp(-(t - 0.1) * 4);
    return level * 0.3 * (Math.sin(2 * Math.PI * f0Hz * t) + Math.sin(4 * Math.PI * f0Hz * t) / 2);
  });
export const wavOf = (f0Hz: number) => writeWav({ channels: [tone(f0Hz)], sampleRateHz: RATE }, 'int16');

export const messageOf = (body: unknown) => errorSchema.parse(body).error;

/**
 * Whether bytes are the same. To compare them one by one in an expectation takes seconds, in which the server
 * ends a connection that is asked nothing.
 */
export const isSame = (bytes: ArrayBuffer, others: Uint8Array): boolean =>
  Buffer.compare(Buffer.from(bytes), others) === 0;

export interface Answer {
  status: number;
  body: unknown;
}

/** A server on a database of its own, and calls to it. */
export async function openApi(environment: Record<string, string> = {}) {
  const database = await createDatabase();
  let server: TestServer = await startServer(database.url, environment);

  /** Straight to the database: what only time would bring about. */
  async function rows(statement: string): Promise<unknown[]> {
    const client = new Client({ connectionString: database.url });
    await client.connect();
    const { rows: found } = await client.query<object>(statement);
    await client.end();
    return found;
  }
  const query = async (statement: string): Promise<void> => void (await rows(statement));

  async function call(method: string, path: string, body?: unknown): Promise<Answer> {
    const response = await fetch(`${server.url}/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const text = await response.text();
    return { status: response.status, body: text ? (JSON.parse(text) as unknown) : null };
  }

  async function sendForm(path: string, fields: Record<string, string>, bytes: Uint8Array, name: string) {
    const form = new FormData();
    for (const [field, value] of Object.entries(fields)) form.append(field, value);
    form.append('file', new Blob([bytes as Uint8Array<ArrayBuffer>]), name);
    const response = await fetch(`${server.url}/api${path}`, { method: 'POST', body: form });
    return { status: response.status, body: (await response.json()) as unknown };
  }

  const upload = (bytes: Uint8Array, name: string, query = '') => sendForm(`/studies${query}`, {}, bytes, name);

  /** Sends the tables and samples of a patch, and gives the patch that refers to them. */
  async function pack(patch: Patch): Promise<PackedPatch> {
    const sent = new Map<string, Uint8Array>();
    const packed = packPatch(patch, (base64) => {
      const bytes = bytesFromBase64(base64);
      const content = contentOfBytes(bytes);
      sent.set(content.sha256, bytes);
      return content;
    });
    // That took its time: connections that the server closed meanwhile are noticed first.
    await new Promise((resolve) => setTimeout(resolve, 20));
    for (const [sha256, bytes] of sent) {
      const response = await fetch(`${server.url}/api/contents/${sha256}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: bytes as Uint8Array<ArrayBuffer>,
      });
      if (response.status !== 204) throw new Error(`Contents were refused: ${await response.text()}`);
    }
    return packed;
  }

  return {
    database,
    get server() {
      return server;
    },
    call,
    query,
    rows,
    upload,
    sendForm,
    pack,
    /** Makes a study and returns its id. */
    newStudy: async (f0Hz: number, name = 'tone.wav') =>
      uploadedSchema.parse((await upload(wavOf(f0Hz), name, '?again')).body).study.id,
    /** Saves a patch as a revision made on another. */
    savePatch: async (studyId: string, patch: Patch, base: number | null, others: object = {}) =>
      call('PUT', `/studies/${studyId}/patch`, { saveId: randomUUID(), base, patch: await pack(patch), ...others }),
    /** Starts the server again, after it was stopped or killed. */
    async restart() {
      server = await startServer(database.url, environment);
    },
    async close() {
      await server.stop();
      await database.drop();
    },
  };
}
