import { emptyPatch } from '@imprint/core/patch/defaults';
import type { Tone } from '@imprint/core/matching/comparison';
import type { Proof } from '@imprint/core/matching/proof';
import { EndedError } from '../workers/workers';
import { cut, deferred, reading, study } from '../../test/study';
import { usePatchStore } from './patchStore';
import { printPatch } from './proofs';
import { closed, useStudyStore } from './studyStore';
import { toneApi } from './threads';

jest.mock('./threads', () => ({ toneApi: jest.fn() }));
jest.mock('./cuts', () => {
  const audio = { channels: [], sampleRateHz: 44100 };
  return { isolatedOf: () => Promise.resolve({ audio, surroundings: { ...audio, sampleRateHz: 22050 } }) };
});
jest.mock('@imprint/core/reading/level/heardLoudness', () => ({ heardLoudness: () => null }));

const state = () => useStudyStore.getState();
/** Prints that were asked for, to be ended by the test. */
let prints: ReturnType<typeof deferred<Proof>>[];
const proof = (name: string) => ({ name, reading: {} }) as unknown as Proof;
const settle = () => new Promise((resolve) => setTimeout(resolve, 2));
const name = (text: string) => usePatchStore.getState().setPatch({ ...emptyPatch(), name: text });

beforeEach(() => {
  prints = [];
  const printProof = (_patch: unknown, _notes: unknown, reference: Tone) => {
    expect(reference.surroundings).toEqual({ channels: [], sampleRateHz: 22050 });
    const print = deferred<Proof>();
    prints.push(print);
    return print.promise;
  };
  (toneApi as jest.Mock).mockReturnValue({ printProof });
  useStudyStore.setState({
    ...closed,
    status: 'ready',
    study: study('a'),
    cuts: [cut('one'), cut('two')],
    cutId: 'one',
    readings: { one: reading(), two: reading() },
  });
  name('first');
});

it('prints once, and says while it does', async () => {
  const printing = printPatch();
  expect(state().printing).toBe(true);
  await settle();
  prints[0].resolve(proof('a'));
  await printing;
  expect(state()).toMatchObject({ printing: false, proof: { name: 'a', cutId: 'one' } });
  expect(prints).toHaveLength(1);
});

it.each([
  ['the patch', () => name('second')],
  ['the cut', () => useStudyStore.setState({ cutId: 'two' })],
  ['the reading', () => useStudyStore.setState({ readings: { one: reading(), two: reading() } })],
])('prints anew when %s changed meanwhile, and shows nothing of what was', async (_what, change) => {
  const printing = printPatch();
  await settle();
  change();
  void printPatch();
  prints[0].resolve(proof('old'));
  await settle();
  expect(state().proof).toBeNull();
  expect(prints).toHaveLength(2);
  prints[1].resolve(proof('new'));
  await printing;
  expect(state()).toMatchObject({ printing: false, proof: { name: 'new' } });
});

it('prints again when its thread was ended to cancel something else', async () => {
  const printing = printPatch();
  await settle();
  prints[0].reject(new EndedError());
  await settle();
  expect(prints).toHaveLength(2);
  prints[1].resolve(proof('again'));
  await printing;
  expect(state()).toMatchObject({ printing: false, proof: { name: 'again' } });
});

it('ends when the study was closed meanwhile', async () => {
  const printing = printPatch();
  await settle();
  useStudyStore.setState(closed);
  prints[0].reject(new EndedError());
  await printing;
  expect(prints).toHaveLength(1);
  expect(state().printing).toBe(false);
});

it('says what went wrong, and prints again at the next change', async () => {
  const printing = printPatch();
  await settle();
  prints[0].reject(new Error('Out of memory.'));
  await printing;
  expect(state()).toMatchObject({ printing: false, workFailure: 'Out of memory.' });
  name('another');
  const again = printPatch();
  await settle();
  prints[1].resolve(proof('b'));
  await again;
  expect(state().proof).toMatchObject({ name: 'b' });
});
