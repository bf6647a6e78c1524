import { EndedError } from '../workers/workers';
import { deferred } from '../../test/study';
import { closed, useStudyStore } from './studyStore';
import { endTone, isRunning, mediaApi, toneThread } from './threads';
import { cancelWork, doWork } from './work';

jest.mock('./threads', () => ({
  endTone: jest.fn(),
  isRunning: jest.fn(),
  mediaApi: jest.fn(),
  toneThread: jest.fn(),
}));

const state = () => useStudyStore.getState();
const pause = jest.fn();

beforeEach(() => {
  useStudyStore.setState(closed);
  (isRunning as unknown as jest.Mock).mockReturnValue(true);
  (toneThread as jest.Mock).mockReturnValue({});
  (mediaApi as jest.Mock).mockReturnValue({ pause: pause.mockReset().mockResolvedValue(undefined) });
});

it('shows progress, and lets the work on the whole file rest meanwhile', async () => {
  const work = deferred<string>();
  const done = doWork('Measuring', (report) => {
    report(0.5);
    return work.promise;
  });
  expect(state().work).toEqual({ title: 'Measuring', fraction: 0.5 });
  expect(pause).toHaveBeenLastCalledWith(true);
  work.resolve('done');
  expect(await done).toBe('done');
  expect(state()).toMatchObject({ work: null, workFailure: null });
  expect(pause).toHaveBeenLastCalledWith(false);
});

it('says what went wrong', async () => {
  expect(await doWork('Measuring', () => Promise.reject(new Error('There is no note in it.')))).toBeUndefined();
  expect(state()).toMatchObject({ work: null, workFailure: 'There is no note in it.' });
});

it('ends at once when it is cancelled, without a word of failure', async () => {
  const work = deferred<string>();
  const done = doWork('Measuring', () => work.promise);
  cancelWork();
  expect(state().work).toBeNull();
  expect(endTone).toHaveBeenCalled();
  (isRunning as unknown as jest.Mock).mockReturnValue(false);
  work.reject(new EndedError());
  expect(await done).toBeUndefined();
  expect(state().workFailure).toBeNull();
});
