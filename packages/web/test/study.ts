import type { Cut, OpenedStudy, Study } from '@imprint/contract/api';
import type { Patch } from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';
import type { Deck } from '../src/audio/deck';
import { packed } from '../src/keeping/contents';
import { client } from '../src/api/client';

/** What stands for a server, threads and sound in tests of the stores. */

/** A promise that the test ends when it wants to. */
export function deferred<T>() {
  let resolve!: (value: T) => void;
  let reject!: (error: Error) => void;
  const promise = new Promise<T>((take, refuse) => {
    resolve = take;
    reject = refuse;
  });
  return { promise, resolve, reject };
}

export const study = (id: string): Study => ({
  id,
  revision: 1,
  saveId: null,
  title: `Study ${id}`,
  note: '',
  role: null,
  demo: false,
  grid: null,
  createdAt: '',
  updatedAt: '',
  reference: {
    id: `reference-${id}`,
    fileName: 'a.wav',
    format: 'WAV',
    sha256: '',
    byteLength: 1,
    durationSeconds: 4,
    sampleRateHz: 44100,
    channels: 1,
    notice: null,
  },
  overallJnd: null,
  cutCount: 1,
});

export const cut = (id: string, fields: Partial<Cut> = {}): Cut => ({
  id,
  revision: 1,
  saveId: null,
  name: `Cut ${id}`,
  role: 'long note',
  fromSeconds: 0,
  toSeconds: 1,
  isolation: null,
  notes: null,
  overrules: {},
  ...fields,
});

export async function opened(id: string, patch: Patch | null = null, cuts = [cut(`cut-${id}`)]): Promise<OpenedStudy> {
  const revision = {
    id: 'revision-1',
    number: 1,
    name: null,
    saveId: null,
    summary: null,
    pinned: false,
    createdAt: '',
  };
  return {
    study: study(id),
    cuts,
    proofs: [],
    patch: patch && { revision, patch: await packed(patch) },
    overview: null,
  };
}

/** A deck that only says whether it was closed. */
export function silentDeck(): Deck & { closed: boolean } {
  const deck = {
    closed: false,
    close() {
      deck.closed = true;
    },
  };
  // A deck is waited for, and what has a "then" is taken for a promise.
  const get = (target: object, name: string | symbol) =>
    Reflect.get(target, name) ?? (name === 'then' ? undefined : () => {});
  return new Proxy(deck, { get }) as unknown as Deck & { closed: boolean };
}

/** A thread that knows whole references and reads nothing. */
export const mediaThread = () => ({
  load: jest.fn(() =>
    Promise.resolve({ audio: { channels: [new Float32Array(4 * 44100)], sampleRateHz: 44100 }, peaks: {} }),
  ),
  onsets: () => Promise.resolve(null),
  pause: () => Promise.resolve(),
  stop: () => Promise.resolve(),
});

/** Answers of a server that has no readings and takes everything. */
export function quietServer(): void {
  jest.spyOn(client, 'reading').mockResolvedValue(null);
  jest.spyOn(client, 'keepReading').mockResolvedValue(undefined);
  let revision = 1;
  const row = (id: string, saveId?: string) => ({ ...cut(id), revision: ++revision, saveId: saveId ?? null });
  jest.spyOn(client, 'changeCut').mockImplementation((id, { saveId }) => Promise.resolve(row(id, saveId)));
  jest.spyOn(client, 'addCut').mockImplementation((_, { id }) => Promise.resolve(row(id!)));
}

export const reading = (fields: Partial<Reading> = {}) =>
  ({
    notes: [{ onsetSeconds: 0, durationSeconds: 0.5, midi: 45, cents: 0, levelDb: -10 }],
    traits: { pitch: { glideSeconds: null } },
    ...fields,
  }) as Reading;
