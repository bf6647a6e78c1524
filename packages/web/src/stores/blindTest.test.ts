import { client } from '../api/client';
import { answerTrial, hearStimulus, startBlindTest, useBlindTest } from './blindTest';
import { cut, study } from '../../test/study';
import { closed, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { useTransport } from './transportStore';

jest.mock('./threads', () => ({ toneApi: jest.fn() }));

const reference = { channels: [new Float32Array(8)], sampleRateHz: 44100 };
const patch = { channels: [new Float32Array(8).fill(1)], sampleRateHz: 44100 };
const setOverlay = jest.fn();
const keepTrials = jest.spyOn(client, 'keepTrials');

beforeEach(async () => {
  setOverlay.mockReset();
  keepTrials.mockReset().mockResolvedValue({} as never);
  jest.spyOn(client, 'startBlindTest').mockResolvedValue({} as never);
  (toneApi as jest.Mock).mockReturnValue({ blindPair: () => Promise.resolve([reference, patch]) });
  const quiet = { play: jest.fn(), stop: jest.fn(), setSide: jest.fn(), setLoop: jest.fn() };
  useTransport.setState({ deck: { ...quiet, setOverlay } as never });
  const whole = { audio: { channels: [new Float32Array(44100)], sampleRateHz: 44100 }, peaks: {} as never };
  const opened = { study: study('a'), cuts: [cut('one')], cutId: 'one', reference: whole };
  useStudyStore.setState({ ...closed, status: 'ready', ...opened, proof: { audio: patch } as never });
  await startBlindTest(3);
});

const answer = (saidPatch: boolean) => {
  hearStimulus('X');
  return answerTrial(saidPatch);
};

it('plays A, B and X over the reference, X as what was drawn, and silence after them', () => {
  const { isPatch } = useBlindTest.getState().test!;
  for (const stimulus of ['A', 'B', 'X'] as const) hearStimulus(stimulus);
  const heard = setOverlay.mock.calls.map(([, { channels }]: [number, typeof patch]) => channels[0]);
  expect(heard.map((samples) => samples[7])).toEqual([0, 1, isPatch ? 1 : 0]);
  for (const samples of heard) expect(samples.subarray(8)).toEqual(new Float32Array(22050));
});

it.each([
  ['once where nothing loops', false, 1],
  ['round and round where the loop is on', true, 0],
])('sounds %s', (_when, looping, stops) => {
  jest.useFakeTimers();
  const stop = jest.fn();
  useTransport.setState({ looping, deck: { ...useTransport.getState().deck, stop } as never });
  hearStimulus('A');
  jest.advanceTimersByTime(1000);
  expect(stop).toHaveBeenCalledTimes(stops);
  jest.useRealTimers();
});

it('takes no answer to what was not heard', async () => {
  await answerTrial(true);
  expect(useBlindTest.getState().test!.trials).toHaveLength(0);
});

const said = () => keepTrials.mock.calls.map(([, trials]) => trials.map(({ saidPatch }) => saidPatch));

it('sends an answer that did not arrive again, with the next', async () => {
  keepTrials.mockRejectedValueOnce(new Error('The server does not answer.'));
  await answer(true);
  expect(useBlindTest.getState().failure).toContain('does not answer');
  await answer(false);
  expect(useBlindTest.getState().failure).toBeNull();
  expect(said()).toEqual([[true], [true, false]]);
});

it('sends an answer while the one before it is still on its way', () => {
  keepTrials.mockReturnValue(new Promise(() => {}));
  void answer(true);
  void answer(false);
  void answer(true);
  expect(said()).toEqual([[true], [true, false], [true, false, true]]);
});
