import { client } from '../api/client';
import { cut, deferred, quietServer, reading, study } from '../../test/study';
import { usePatchStore } from './patchStore';
import { readAllCuts, readCut } from './readings';
import { closed, useStudyStore } from './studyStore';
import { mediaApi, toneApi, toneThread } from './threads';

jest.mock('./threads', () => ({
  toneApi: jest.fn(),
  toneThread: jest.fn(),
  isRunning: () => true,
  mediaApi: jest.fn(),
}));

const state = () => useStudyStore.getState();
const thread = { read: jest.fn() };

beforeEach(() => {
  jest.restoreAllMocks();
  quietServer();
  for (const mock of [toneApi, toneThread] as unknown as jest.Mock[]) mock.mockReturnValue(thread);
  (mediaApi as jest.Mock).mockReturnValue(undefined);
  thread.read.mockReset().mockImplementation(() => Promise.resolve(reading()));
  usePatchStore.getState().setPatch(null);
  useStudyStore.setState({
    ...closed,
    status: 'ready',
    study: study('a'),
    cuts: [cut('one'), cut('two', { fromSeconds: 2, toSeconds: 3 })],
    cutId: 'one',
    reference: { audio: { channels: [new Float32Array(4 * 44100)], sampleRateHz: 44100 }, peaks: {} as never },
  });
});

it('a reading is shown and kept with the span that it is of', async () => {
  await readCut();
  expect(state().readings.one).toBeDefined();
  expect(client.keepReading).toHaveBeenCalledWith('one', expect.objectContaining({ fromSeconds: 0, toSeconds: 1 }));
});

it.each([
  ['moved', () => useStudyStore.setState({ cuts: [cut('one', { toSeconds: 0.7 })] })],
  ['deleted', () => useStudyStore.setState({ cuts: [] })],
])('a reading of a cut that was %s meanwhile is not kept', async (_what, change) => {
  const read = deferred<ReturnType<typeof reading>>();
  thread.read.mockReturnValue(read.promise);
  const reading1 = readCut();
  change();
  read.resolve(reading());
  await reading1;
  expect(state().readings.one).toBeUndefined();
  expect(client.keepReading).not.toHaveBeenCalled();
});

it('all cuts are measured in turn; what was kept is not measured again', async () => {
  jest
    .spyOn(client, 'reading')
    .mockImplementation((id) =>
      Promise.resolve(id === 'one' ? { fromSeconds: 0, toSeconds: 1, reading: reading() } : null),
    );
  await readAllCuts();
  expect(thread.read).toHaveBeenCalledTimes(1);
  expect(Object.keys(state().readings).sort()).toEqual(['one', 'two']);
});
