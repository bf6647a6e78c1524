import { RequestError } from '../api/client';
import { type Confirmed, type Outbox, type OutboxEvents, type Sender, createOutbox } from './outbox';
import type { Unsent } from './unsent';
import { type UnsentStorage, memoryStorage } from './unsentStorage';

/** A server of one study's title: each state has a number and the name of who made it. */
function titleServer() {
  const server = {
    base: 1,
    saveId: null as string | null,
    title: 'first',
    /** What the next requests meet: an error before or after they were done. */
    faults: [] as { before?: RequestError; after?: RequestError }[],
    requests: 0,
    sender: null as unknown as Sender,
  };
  const state = (): Confirmed => ({ base: server.base, saveId: server.saveId, document: { title: server.title } });
  server.sender = {
    join: (earlier, later) => ({ ...earlier.body, ...later.body }),
    async send(unsent) {
      server.requests++;
      const fault = server.faults.shift();
      if (fault?.before) throw fault.before;
      if (server.saveId !== unsent.saveId) {
        if (unsent.base !== server.base) throw new RequestError('changed', 409, 'conflict', state());
        server.base++;
        server.saveId = unsent.saveId;
        server.title = (unsent.body as { title: string }).title;
      }
      if (fault?.after) throw fault.after;
      return state();
    },
    current: ({ current }) => current as Confirmed,
    rebase: ({ body }) => body,
    fitsKeepalive: () => true,
  };
  return server;
}

const away = () => new RequestError('The server does not answer.', 0);

let server: ReturnType<typeof titleServer>;
let storage: UnsentStorage;
let states: string[];
let conflicts: Unsent[];
let confirmed: [unknown, boolean][];

function open(windowId = 'window-1'): Outbox {
  const events: OutboxEvents = {
    onState: (state) => states.at(-1) !== state && states.push(state),
    onConfirmed: (unsent, _confirmed, isLast) => confirmed.push([unsent.body, isLast]),
    onConflict: (unsent) => conflicts.push(unsent),
  };
  const senders = { patch: server.sender, cut: server.sender, study: server.sender, reading: server.sender };
  return createOutbox({ windowId, storage, senders, events, pausesMs: [5, 10] });
}

const put = (outbox: Outbox, title: string, base = 1) =>
  outbox.put({ kind: 'study', id: 'study-1', studyId: 'study-1', base, body: { title } });
const kept = async () => (await storage.all()).map(({ body }) => body);
const until = async (done: () => boolean) => {
  for (let i = 0; i < 4000 && !done(); i++) await new Promise((resolve) => setTimeout(resolve, 5));
  expect(done()).toBe(true);
};

beforeEach(() => {
  server = titleServer();
  storage = memoryStorage();
  states = [];
  conflicts = [];
  confirmed = [];
});

it('keeps a change in the browser before it is sent, and no longer than until it is confirmed', async () => {
  const outbox = open();
  put(outbox, 'second');
  await outbox.stored();
  expect(await kept()).toEqual([{ title: 'second' }]);
  await outbox.flush();
  await outbox.stored();
  expect(await kept()).toEqual([]);
  expect(server.title).toBe('second');
  expect(states).toEqual(['saving', 'saved']);
});

it('joins changes that wait, and sends what is changed while it sends', async () => {
  const outbox = open();
  put(outbox, 'a');
  put(outbox, 'b');
  const sent = outbox.flush();
  put(outbox, 'c');
  await sent;
  expect(server).toMatchObject({ title: 'c', base: 3, requests: 2 });
  expect(confirmed).toEqual([
    [{ title: 'b' }, false],
    [{ title: 'c' }, true],
  ]);
});

it('goes on trying while the server is away, and says that it is kept', async () => {
  const outbox = open();
  server.faults = [{ before: away() }, { before: away() }, { before: new RequestError('away', 503, 'away') }];
  put(outbox, 'late');
  await outbox.flush();
  expect(states).toEqual(['saving', 'kept']);
  await until(() => server.title === 'late');
  expect(states.at(-1)).toBe('saved');
  expect(server.requests).toBe(4);
});

it('makes a change once when the answer was lost, also when there is a newer one by then', async () => {
  const outbox = open();
  server.faults = [{ after: away() }];
  put(outbox, 'once');
  await outbox.flush();
  put(outbox, 'newer');
  await until(() => server.title === 'newer');
  expect(server.base).toBe(3);
  expect(conflicts).toEqual([]);
});

it('stops at a change of another window until it is said whose counts', async () => {
  const outbox = open();
  put(outbox, 'mine');
  Object.assign(server, { base: 2, saveId: 'theirs', title: 'theirs' });
  await outbox.flush();
  expect(conflicts).toHaveLength(1);
  expect(states.at(-1)).toBe('conflict');
  await outbox.stored();
  expect(await kept()).toEqual([{ title: 'mine' }]);
  put(outbox, 'mine, edited');
  await outbox.flush();
  expect(server.title).toBe('theirs');
  await outbox.resolve(conflicts[0], 'mine');
  expect(server).toMatchObject({ title: 'mine, edited', base: 3 });
  expect(states.at(-1)).toBe('saved');

  put(outbox, 'again', 3);
  Object.assign(server, { base: 4, saveId: 'theirs', title: 'theirs' });
  await outbox.flush();
  await outbox.resolve(conflicts[1], 'theirs');
  expect(server.title).toBe('theirs');
  expect(outbox.waitingOf('study', 'study-1')).toBeUndefined();
});

it('keeps what the server refuses, says why, does not ask again by itself, and lets the rest go on', async () => {
  const outbox = open();
  server.faults = [{ before: new RequestError('“A” is in the trash.', 404, 'notFound') }];
  put(outbox, 'refused');
  outbox.put({ kind: 'cut', id: 'cut-1', studyId: 'study-1', base: 1, body: { isNew: false, fields: {} } });
  await outbox.flush();
  expect(server.requests).toBe(2);
  expect(states.at(-1)).toBe('refused');
  expect(outbox.waitingOf('study', 'study-1')?.refusal).toBe('“A” is in the trash.');
  put(outbox, 'accepted', 1);
  server.base = 1;
  await outbox.tryRefused();
  expect(states.at(-1)).toBe('saved');
});

it('sends what a window that is gone had left, and leaves those of open ones alone', async () => {
  const gone = open('gone');
  put(gone, 'left behind');
  await gone.stored();
  const other = open('other');
  other.put({ kind: 'cut', id: 'cut-9', studyId: 'study-1', base: 1, body: { isNew: false, fields: {} } });
  await other.stored();
  const next = open('next');
  await next.adopt((windowId) => windowId === 'gone');
  await next.flush();
  await next.stored();
  expect(server.title).toBe('left behind');
  expect((await storage.all()).map(({ windowId }) => windowId)).toEqual(['other']);
});

it('keeps what was left apart from what is changed here, when another window changed the same', async () => {
  const gone = open('gone');
  put(gone, 'left behind');
  await gone.stored();
  Object.assign(server, { base: 2, saveId: 'theirs', title: 'theirs' });
  const next = open('next');
  await next.adopt(() => true);
  await next.flush();
  expect(conflicts).toMatchObject([{ body: { title: 'left behind' }, isLeftover: true }]);
  put(next, 'here', 2);
  await next.flush();
  expect(server.title).toBe('here');
  expect((await storage.all()).map(({ body }) => body)).toEqual([{ title: 'left behind' }]);
  await next.resolve(conflicts[0], 'theirs');
  await next.stored();
  expect(await kept()).toEqual([]);
});

it('sends with the page that is left, and keeps it until somebody has heard the answer', async () => {
  const outbox = open();
  put(outbox, 'on leaving');
  outbox.leave();
  await until(() => server.title === 'on leaving');
  await outbox.stored();
  expect(await kept()).toEqual([{ title: 'on leaving' }]);
  // The next page finds it, sends it again, and it is the same change.
  const next = open('next');
  await next.adopt(() => true);
  await next.flush();
  expect(server.base).toBe(2);
  expect(await kept()).toEqual([]);
});
