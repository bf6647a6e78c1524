import type { Run, RunEvent } from '@imprint/contract/runs';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { client } from '../api/client';
import { outbox } from '../keeping/keeping';
import { cut, quietServer, reading, study } from '../../test/study';
import { useHeardCandidate } from './heardCandidate';
import { takeTheirs } from './patchSaving';
import { usePatchStore } from './patchStore';
import { followRuns, patchWith, startRun, useRuns } from './runs';
import { closed, useStudyStore } from './studyStore';

jest.mock('./patchSaving', () => ({ takeTheirs: jest.fn(() => Promise.resolve()) }));

/** Stands in for the browser's stream of events. */
class Stream {
  static readonly OPEN = 1;
  static last: Stream;
  readyState = 0;
  onmessage: ((event: { data: string }) => void) | null = null;
  close = jest.fn();
  constructor(readonly url: string) {
    Stream.last = this;
  }
  tell(event: RunEvent): void {
    this.readyState = Stream.OPEN;
    this.onmessage?.({ data: JSON.stringify(event) });
  }
}

const run = (fields: Partial<Run> = {}): Run => ({
  id: '00000000-0000-4000-8000-000000000001',
  studyId: '00000000-0000-4000-8000-000000000002',
  revision: 1,
  state: 'running',
  cutIds: ['00000000-0000-4000-8000-000000000003'],
  structure: 'any',
  only: [],
  locks: [],
  budgetSeconds: 4,
  seed: 1,
  startsFromPatch: false,
  stage: 'filter',
  fraction: 0.5,
  renders: 20,
  seconds: 2,
  curve: [],
  overallJnd: 3,
  recommendation: '',
  failure: null,
  createdAt: '2026-01-01T00:00:00.000Z',
  endedAt: null,
  ...fields,
});
const [cutId] = run().cutIds;
const candidate = {
  id: '00000000-0000-4000-8000-000000000004',
  name: 'plain patch',
  kind: 'plain' as const,
  overallJnd: 1.2,
  settings: 20,
  why: [],
  picture: { centresHz: [], referenceDb: [], patchDb: [] },
  patch: { ...emptyPatch('Found'), wavetables: [], samples: [] },
};
const settle = () => new Promise((resolve) => setTimeout(resolve, 2));
let stop: () => void;

beforeEach(() => {
  jest.restoreAllMocks();
  quietServer();
  Object.assign(globalThis, { EventSource: Stream });
  jest.spyOn(outbox, 'flush').mockResolvedValue(undefined);
  jest.spyOn(client, 'reading').mockResolvedValue({ fromSeconds: 0, toSeconds: 1, reading: reading() });
  jest.spyOn(client, 'run').mockResolvedValue({ run: run(), best: null, notes: [], candidates: [candidate] });
  (takeTheirs as jest.Mock).mockClear();
  usePatchStore.getState().setPatch(null);
  useHeardCandidate.setState({ heard: null });
  useStudyStore.setState({ ...closed, status: 'ready', study: study('a'), cuts: [cut(cutId)], cutId });
  stop = followRuns('a');
});
afterEach(() => stop());

it('a run that ends gives the cut its reading, and a study without a patch the one that it was given', async () => {
  Stream.last.tell({ runs: [run()], slots: 2 });
  expect(useRuns.getState()).toMatchObject({ slots: 2, runs: [{ state: 'running' }] });
  Stream.last.tell({ runs: [run({ state: 'done' })], slots: 2 });
  await settle();
  expect(useStudyStore.getState().readings[cutId]).toBeDefined();
  expect(takeTheirs).toHaveBeenCalledWith('a');
  // Nobody waits for it here, so nothing begins to sound.
  expect(useHeardCandidate.getState().heard).toBeNull();
});

it('one that was begun here is heard when it ends, and leaves the patch that is there', async () => {
  const own = emptyPatch('Own');
  usePatchStore.getState().setPatch(own);
  jest.spyOn(client, 'startRun').mockResolvedValue(run({ state: 'waiting' }));
  await startRun();
  expect(client.startRun).toHaveBeenCalledWith(
    'a',
    expect.objectContaining({ cutIds: [cutId], fromPatch: null, locks: [] }),
  );
  Stream.last.tell({ runs: [run({ state: 'done' })], slots: 1 });
  await settle();
  expect(useHeardCandidate.getState().heard).toMatchObject({ id: candidate.id, cutId });
  expect(takeTheirs).not.toHaveBeenCalled();
  expect(usePatchStore.getState().patch).toBe(own);
});

it('from the patch it takes the locks along', async () => {
  const own = emptyPatch('Own');
  usePatchStore.getState().setPatch({ ...own, locks: [`${own.layers[0].id}/amp`] });
  jest.spyOn(client, 'startRun').mockResolvedValue(run({ state: 'waiting' }));
  await startRun({ startsFromPatch: true });
  const [, sent] = (client.startRun as jest.Mock).mock.lastCall as [string, { locks: string[]; fromPatch: unknown }];
  expect(sent.locks).toEqual(['amp']);
  expect(sent.fromPatch).not.toBeNull();
});

it('says why a run could not be begun', async () => {
  jest.spyOn(client, 'startRun').mockRejectedValue(new Error('30 runs of this study wait already.'));
  await startRun();
  expect(useRuns.getState().failure).toContain('30 runs');
});

it('asks where the stream of events is not there', async () => {
  jest.spyOn(client, 'runs').mockResolvedValue({ runs: [run()], slots: 3 });
  await new Promise((resolve) => setTimeout(resolve, 1100));
  expect(useRuns.getState()).toMatchObject({ slots: 3, runs: [{ id: run().id }] });
});

it('forgets the runs of a study that is closed', () => {
  Stream.last.tell({ runs: [run()], slots: 2 });
  stop();
  expect(Stream.last.close).toHaveBeenCalled();
  expect(useRuns.getState().runs).toBeNull();
});

it('a part of a candidate comes into the patch, the whole of it in its place', () => {
  const own = emptyPatch('Own');
  usePatchStore.getState().setPatch(own);
  const other = { ...emptyPatch('Other') };
  expect(patchWith(other, 'all').name).toBe('Other');
  expect(patchWith(other, 'filter').name).toBe('Own');
});
