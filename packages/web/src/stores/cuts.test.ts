import { client } from '../api/client';
import { cut, deferred, quietServer, reading, study } from '../../test/study';
import { addCut, changeCut, deleteCut, followCuts, putBackCut, selectCut } from './cuts';
import { closed, useStudyStore } from './studyStore';

const state = () => useStudyStore.getState();
let end: () => void;

beforeEach(() => {
  jest.restoreAllMocks();
  quietServer();
  end = followCuts();
  useStudyStore.setState({ ...closed, status: 'ready', study: study('a'), cuts: [cut('one')], cutId: 'one' });
});
afterEach(() => end());

it('a change is shown at once and sent with the state that it was made on', async () => {
  const changing = changeCut('one', { name: 'Bell' });
  expect(state().cuts[0].name).toBe('Bell');
  await changing;
  const [, sent] = (client.changeCut as jest.Mock).mock.calls[0] as [string, object];
  expect(sent).toMatchObject({ name: 'Bell', revision: 1 });
  expect(state().cuts[0].revision).toBeGreaterThan(1);
});

it('a cut that is too short is refused in words, and nothing changes', async () => {
  await expect(changeCut('one', { toSeconds: 0.01 })).rejects.toThrow('A cut is at least 50 ms long.');
  await expect(addCut({ name: 'x', role: 'long note', fromSeconds: 2, toSeconds: 2.01 })).rejects.toThrow('50 ms');
  await expect(changeCut('one', { name: '  ' })).rejects.toThrow('at least one character');
  expect(state().cuts).toEqual([cut('one')]);
  expect(client.changeCut).not.toHaveBeenCalled();
});

it('a new cut is chosen at once, and made under the id that it has here', async () => {
  await addCut({ name: 'Two', role: 'phrase', fromSeconds: 2, toSeconds: 3 });
  const [, made] = state().cuts;
  expect(state().cutId).toBe(made.id);
  expect((client.addCut as jest.Mock).mock.calls[0]).toMatchObject(['a', { id: made.id, name: 'Two' }, {}]);
});

it('another edge drops the reading; another name does not', async () => {
  useStudyStore.setState({ readings: { one: reading() } });
  await changeCut('one', { name: 'Same sound' });
  expect(state().readings.one).toBeDefined();
  await changeCut('one', { toSeconds: 0.5 });
  expect(state().readings.one).toBeUndefined();
});

it('a reading that comes when the cut was moved, or another study is open, is not taken', async () => {
  const answer = deferred<{ fromSeconds: number; toSeconds: number; reading: ReturnType<typeof reading> } | null>();
  jest.spyOn(client, 'reading').mockReturnValue(answer.promise as never);
  const selecting = selectCut('one');
  useStudyStore.setState({ cuts: [cut('one', { toSeconds: 0.5 })] });
  answer.resolve({ fromSeconds: 0, toSeconds: 1, reading: reading() });
  await selecting;
  expect(state().readings).toEqual({});
});

it('a deleted cut is put back where it was', async () => {
  useStudyStore.setState({ cuts: [cut('one'), cut('two', { fromSeconds: 2, toSeconds: 3 })] });
  jest.spyOn(client, 'deleteCut').mockResolvedValue(undefined);
  const back = jest.spyOn(client, 'putBack').mockResolvedValue(undefined);
  await deleteCut('one');
  expect(state()).toMatchObject({ cutId: 'two', cuts: [{ id: 'two' }] });
  await putBackCut(cut('one'));
  expect(back).toHaveBeenCalledWith('cut', 'one');
  expect(state().cuts.map(({ id }) => id)).toEqual(['one', 'two']);
});

it('a cut stays when the server did not delete it', async () => {
  jest.spyOn(client, 'deleteCut').mockRejectedValue(new Error('The server does not answer.'));
  await expect(deleteCut('one')).rejects.toThrow('does not answer');
  expect(state().cuts).toHaveLength(1);
});
