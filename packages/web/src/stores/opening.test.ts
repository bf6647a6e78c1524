import { emptyPatch } from '@imprint/core/patch/defaults';
import { client } from '../api/client';
import { openDeck } from '../audio/deck';
import { deferred, mediaThread, opened, quietServer, silentDeck, study } from '../../test/study';
import { closeStudy, followStudy, openStudy, renameStudy } from './opening';
import { usePatchStore } from './patchStore';
import { useStudyStore } from './studyStore';
import { endThreads, startMedia } from './threads';
import { useTransport } from './transportStore';

jest.mock('../audio/deck', () => ({ openDeck: jest.fn() }));
jest.mock('./threads', () => ({ startMedia: jest.fn(), mediaApi: jest.fn(), endThreads: jest.fn() }));

const state = () => useStudyStore.getState();
const openDeckMock = openDeck as jest.MockedFunction<typeof openDeck>;

async function until(done: () => boolean): Promise<void> {
  for (let i = 0; i < 10_000 && !done(); i++) await new Promise((resolve) => setTimeout(resolve, 2));
  expect(done()).toBe(true);
}

beforeEach(() => {
  jest.restoreAllMocks();
  openDeckMock.mockReset();
  quietServer();
  (startMedia as jest.Mock).mockReturnValue(mediaThread());
  openDeckMock.mockImplementation(() => Promise.resolve(silentDeck()));
});
afterEach(closeStudy);

it('shows a study, its patch and its first cut', async () => {
  const patch = { ...emptyPatch('Kept'), name: 'Kept' };
  jest.spyOn(client, 'study').mockResolvedValue(await opened('a', patch));
  await openStudy('a');
  expect(state()).toMatchObject({ status: 'ready', cutId: 'cut-a', study: { id: 'a' }, revision: { number: 1 } });
  expect(usePatchStore.getState().patch).toEqual(patch);
});

it('says why one cannot be opened', async () => {
  jest.spyOn(client, 'study').mockRejectedValue(new Error('“A” is in the trash.'));
  await openStudy('a');
  expect(state()).toMatchObject({ status: 'failed', failure: '“A” is in the trash.', loading: null });
});

it('closed while it waits for the server, stays closed', async () => {
  const answer = deferred<Awaited<ReturnType<typeof opened>>>();
  jest.spyOn(client, 'study').mockReturnValue(answer.promise);
  const opening = openStudy('a');
  await Promise.resolve();
  closeStudy();
  answer.resolve(await opened('a', emptyPatch()));
  await opening;
  expect(state().status).toBe('closed');
  expect(usePatchStore.getState().patch).toBeNull();
});

it('closed while it waits for sound, closes the sound as well', async () => {
  const sound = deferred<ReturnType<typeof silentDeck>>();
  openDeckMock.mockReturnValue(sound.promise);
  jest.spyOn(client, 'study').mockResolvedValue(await opened('a'));
  const opening = openStudy('a');
  await until(() => openDeckMock.mock.calls.length > 0);
  closeStudy();
  const deck = silentDeck();
  sound.resolve(deck);
  await opening;
  expect(deck.closed).toBe(true);
  expect(useTransport.getState().deck).toBeNull();
  expect(endThreads).toHaveBeenCalled();
});

it('of two opened one after the other, shows the second, whichever answers first', async () => {
  const answers = {
    a: deferred<Awaited<ReturnType<typeof opened>>>(),
    b: deferred<Awaited<ReturnType<typeof opened>>>(),
  };
  jest.spyOn(client, 'study').mockImplementation((id) => answers[id as 'a' | 'b'].promise);
  const first = openStudy('a');
  await until(() => (client.study as jest.Mock).mock.calls.length > 0);
  const both = [first, openStudy('b')];
  answers.b.resolve(await opened('b'));
  await new Promise((resolve) => setTimeout(resolve, 5));
  answers.a.reject(new Error('too late'));
  await Promise.all(both);
  expect(state()).toMatchObject({ status: 'ready', study: { id: 'b' } });
});

it('shows another name at once, and counts what the server confirms', async () => {
  const end = followStudy();
  jest.spyOn(client, 'study').mockResolvedValue(await opened('a'));
  await openStudy('a');
  const sent = jest
    .spyOn(client, 'changeStudy')
    .mockImplementation((id, { saveId }) => Promise.resolve({ ...study(id), revision: 7, saveId: saveId ?? null }));
  renameStudy('  Wet rope ');
  expect(state().study?.title).toBe('Wet rope');
  await until(() => state().study?.revision === 7);
  expect(sent.mock.calls[0][1]).toMatchObject({ title: 'Wet rope', revision: 1 });
  expect(state().study?.title).toBe('Wet rope');
  end();
});
