import { emptyPatch } from '@imprint/core/patch/defaults';
import { builtInTables } from '@imprint/core/patch/contents/builtInTables';
import type { Deck } from '../audio/deck';
import { outbox } from '../keeping/keeping';
import { startFrom } from '../stores/patchSaving';
import { usePatchStore } from '../stores/patchStore';
import { printPatch } from '../stores/proofs';
import { closed, useStudyStore } from '../stores/studyStore';
import { toneApi } from '../stores/threads';
import { useTransport } from '../stores/transportStore';
import { EndedError } from '../workers/workers';
import { study } from '../../test/study';
import { connectStores } from './wiring';

jest.mock('../stores/threads', () => ({ toneApi: jest.fn() }));
jest.mock('../stores/proofs', () => ({ printPatch: jest.fn(() => Promise.resolve()) }));

const setPatch = jest.fn();
const prepare = jest.fn();
let disconnect: () => void;
const settle = () => new Promise((resolve) => setTimeout(resolve, 2));
const revision = { id: 'r', number: 3, name: null, saveId: null, summary: null, pinned: false, createdAt: '' };

beforeEach(() => {
  // Nothing of a window outside a browser.
  Object.assign(globalThis, { window: new EventTarget(), document: new EventTarget() });
  jest.spyOn(outbox, 'put').mockReturnValue(undefined);
  jest.spyOn(outbox, 'flush').mockResolvedValue(undefined);
  setPatch.mockReset();
  prepare.mockReset();
  (printPatch as jest.Mock).mockClear();
  (toneApi as jest.Mock).mockReturnValue({ prepare });
  usePatchStore.getState().setPatch(null);
  useTransport.setState({ deck: { setPatch, setPhrase: () => {} } as unknown as Deck });
  useStudyStore.setState({ ...closed, status: 'ready', study: study('a'), revision });
  startFrom('a', revision, null);
  disconnect = connectStores();
});
afterEach(() => disconnect());

const edit = (name: string) => usePatchStore.getState().setPatch({ ...emptyPatch(), name });
const withTable = (id: number) => ({ ...emptyPatch(), wavetables: [{ ...builtInTables[id].make(), id: 'table-1' }] });

it('a patch that is opened goes to the deck and is not saved; one that is edited is kept at once', async () => {
  edit('opened');
  await settle();
  expect(setPatch).toHaveBeenCalledTimes(1);
  expect(outbox.put).not.toHaveBeenCalled();
  edit('edited');
  await settle();
  expect(outbox.put).toHaveBeenCalledWith(
    expect.objectContaining({ kind: 'patch', id: 'a', base: 3, body: expect.objectContaining({ name: null }) }),
  );
});

it('a change of the reading leads to a print', async () => {
  useStudyStore.setState({ cutId: 'none', cuts: [] });
  edit('x');
  await new Promise((resolve) => setTimeout(resolve, 400));
  expect(printPatch).toHaveBeenCalled();
});

it('a table that could not be made is made when it is next wanted', async () => {
  prepare.mockRejectedValueOnce(new Error('Too large.'));
  usePatchStore.getState().setPatch(withTable(0));
  await settle();
  expect(useStudyStore.getState().workFailure).toBe('Too large.');
  expect(setPatch).not.toHaveBeenCalled();
  prepare.mockResolvedValue({ levels: [] });
  usePatchStore.getState().setPatch({ ...withTable(0), name: 'again' });
  await settle();
  expect(setPatch).toHaveBeenCalledTimes(1);
});

it('a table whose thread was ended by a cancel is made by the next one, and later patches are heard', async () => {
  prepare.mockRejectedValueOnce(new EndedError()).mockResolvedValue({ levels: [] });
  usePatchStore.getState().setPatch(withTable(1));
  await settle();
  expect(setPatch).toHaveBeenCalledTimes(1);
  expect(useStudyStore.getState().workFailure).toBeNull();
  edit('later');
  await settle();
  expect(setPatch).toHaveBeenCalledTimes(2);
});

it('a patch follows the tempo of the track, also corrected later, and takes no step of the history for it', () => {
  const found = { bpm: 95.998, beatSeconds: 0, confidence: 0.8, others: [] };
  useStudyStore.setState({ piece: { tempo: found } });
  edit('follows');
  expect(usePatchStore.getState().patch!.bpm).toBe(96);
  const steps = usePatchStore.temporal.getState().pastStates.length;
  useStudyStore.setState(({ study: open }) => ({ study: { ...open!, grid: { bpm: 48, beatSeconds: 0 } } }));
  expect(usePatchStore.getState().patch!.bpm).toBe(48);
  expect(usePatchStore.temporal.getState().pastStates).toHaveLength(steps);
  usePatchStore.getState().edit((patch) => ({ ...patch, bpm: 140, tempoFrom: 'hand' }));
  useStudyStore.setState(({ study: open }) => ({ study: { ...open!, grid: null } }));
  expect(usePatchStore.getState().patch!.bpm).toBe(140);
});
