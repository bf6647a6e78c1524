import { RequestError } from '../api/client';
import type { Change, Unsent } from './unsent';
import type { UnsentStorage } from './unsentStorage';

/** What the server has now, once it confirmed a change or told of another's. */
export interface Confirmed {
  /** Number of the state. */
  base: number | null;
  /** Who made it. */
  saveId: string | null;
  document: unknown;
}

/** How one kind of change is sent and joined with one that waits. */
export interface Sender {
  /** Two changes of one thing as one. */
  join(earlier: Unsent, later: Change): Unsent['body'];
  /** Throws a RequestError; of a conflict with what is there now in `current`. */
  send(unsent: Unsent, options: { keepalive: boolean }): Promise<Confirmed>;
  /** What the server told of a conflict. */
  current(error: RequestError): Confirmed;
  /** What is left to send of a change that was made while the same thing was sent. */
  rebase(unsent: Unsent, sent: Unsent): Unsent['body'];
  /**
   * Whether it can go with a page that is being left; null when it is too large, or needs more than one
   * request.
   */
  fitsKeepalive(unsent: Unsent): boolean;
}

export type SavingState = 'saved' | 'saving' | 'kept' | 'conflict' | 'refused';

export interface OutboxEvents {
  /** Called at every change of how things stand. */
  onState(state: SavingState, reason: string | null): void;
  /** A change arrived; `isLast` when nothing of the same thing waits. */
  onConfirmed(unsent: Unsent, confirmed: Confirmed, isLast: boolean): void;
  /** Another window changed the same thing; nothing is sent of it until `resolve`. */
  onConflict(unsent: Unsent, current: Confirmed): void;
}

interface OutboxOptions {
  windowId: string;
  storage: UnsentStorage;
  senders: Record<Unsent['kind'], Sender>;
  events: OutboxEvents;
  /** Waits between tries while the server is away, the last one again and again. */
  pausesMs?: readonly number[];
}

const PAUSES_MS = [500, 1000, 2000, 4000, 8000, 15_000];

export type Outbox = ReturnType<typeof createOutbox>;

/**
 * Sends changes in the order in which they were made, one at a time. Each is kept in the browser from the
 * moment it is made until the server has confirmed it; while the server is away it is tried again with
 * growing pauses.
 */
export function createOutbox({ windowId, storage, senders, events, pausesMs = PAUSES_MS }: OutboxOptions) {
  const waiting = new Map<string, Unsent>();
  const conflicts = new Map<string, Confirmed>();
  const writes = new Map<string, { begun: boolean; done: Promise<void> }>();
  let sending: Promise<void> | undefined;
  let failures = 0;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let away: string | null = null;

  /** One write of a thing at a time; of several that are wanted meanwhile the last is made. */
  function store(key: string): Promise<void> {
    const queued = writes.get(key);
    if (queued && !queued.begun) return queued.done;
    const write = { begun: false, done: Promise.resolve() };
    write.done = (queued?.done ?? Promise.resolve()).then(async () => {
      write.begun = true;
      const unsent = waiting.get(key);
      await (unsent ? storage.put(unsent) : storage.remove(key)).catch((error: unknown) => console.error(error));
      if (writes.get(key) === write) writes.delete(key);
    });
    writes.set(key, write);
    return write.done;
  }

  function tell(): void {
    const all = [...waiting.values()];
    const refused = all.find(({ refusal }) => refusal !== null);
    if (conflicts.size > 0) events.onState('conflict', 'changed in another window');
    else if (refused) events.onState('refused', refused.refusal);
    else if (all.length === 0) events.onState('saved', null);
    else if (away !== null) events.onState('kept', away);
    else events.onState('saving', null);
  }

  const keyOf = ({ kind, id }: Pick<Unsent, 'kind' | 'id'>) => `${windowId} ${kind} ${id}`;

  /** Keeps a change at once; it is sent by the next `flush`. */
  function put(change: Change): void {
    const key = keyOf(change);
    const earlier = waiting.get(key);
    const fresh = { saveId: crypto.randomUUID(), refusal: null };
    const unsent = (
      earlier
        ? { ...earlier, ...fresh, body: senders[change.kind].join(earlier, change) }
        : { ...change, ...fresh, key, windowId, sentIds: [], isLeftover: false, at: Date.now() }
    ) as Unsent;
    waiting.set(key, unsent);
    void store(key);
    tell();
  }

  /**
   * Sends what waits. Resolves when all was sent or had to be put off; `put` and `flush` meanwhile are part
   * of it.
   */
  function flush(): Promise<void> {
    clearTimeout(retry);
    sending ??= sendAll().finally(() => {
      sending = undefined;
      tell();
    });
    return sending;
  }

  const next = () =>
    [...waiting.values()]
      .filter(({ key, refusal }) => refusal === null && !conflicts.has(key))
      .sort((a, b) => a.at - b.at)[0] as Unsent | undefined;

  async function sendAll(): Promise<void> {
    for (let unsent = next(); unsent; unsent = next()) {
      const passing = await sendOne(unsent);
      if (passing === null) {
        failures = 0;
        away = null;
        continue;
      }
      away = passing.message;
      const pauseMs = pausesMs[Math.min(failures++, pausesMs.length - 1)];
      retry = setTimeout(() => void flush(), pauseMs);
      return;
    }
  }

  /** Null when the server answered, whatever it said; else why it could not. */
  async function sendOne(unsent: Unsent): Promise<RequestError | null> {
    const { key, kind, saveId } = unsent;
    const sender = senders[kind];
    if (!unsent.sentIds.includes(saveId)) {
      const sent = { ...unsent, sentIds: [...unsent.sentIds, saveId] };
      waiting.set(key, sent);
      void store(key);
    }
    try {
      confirm(unsent, await sender.send(unsent, { keepalive: false }));
      return null;
    } catch (error) {
      if (!(error instanceof RequestError)) {
        refuse(key, (error as Error).message);
        return null;
      }
      if (error.isPassing) return error;
      if (error.code === 'conflict') meet(unsent, sender.current(error));
      else refuse(key, error.message);
      return null;
    }
  }

  function confirm(sent: Unsent, confirmed: Confirmed): void {
    const { key, kind } = sent;
    const now = waiting.get(key);
    const isLast = !now || now.saveId === sent.saveId;
    if (isLast) waiting.delete(key);
    else {
      const body = senders[kind].rebase(now, sent);
      waiting.set(key, { ...now, base: confirmed.base, body } as Unsent);
    }
    void store(key);
    events.onConfirmed(sent, confirmed, isLast);
    tell();
  }

  /** A conflict with a state of this window's own is none: its answer was lost on the way. */
  function meet(unsent: Unsent, current: Confirmed): void {
    const { key } = unsent;
    const now = waiting.get(key) ?? unsent;
    if (current.saveId !== null && now.sentIds.includes(current.saveId)) {
      waiting.set(key, { ...now, base: current.base, ...withoutBefore(now) } as Unsent);
      void store(key);
      return;
    }
    conflicts.set(key, current);
    events.onConflict(now, current);
    tell();
  }

  function refuse(key: string, reason: string): void {
    const unsent = waiting.get(key);
    if (!unsent) return;
    waiting.set(key, { ...unsent, refusal: reason });
    void store(key);
    tell();
  }

  return {
    put,
    flush,

    /**
     * Sends what is small enough with a page that is being left. What the server does not confirm stays in
     * the browser.
     */
    leave(): void {
      for (const unsent of waiting.values()) {
        if (unsent.refusal !== null || conflicts.has(unsent.key)) continue;
        if (senders[unsent.kind].fitsKeepalive(unsent))
          void senders[unsent.kind].send(unsent, { keepalive: true }).catch(() => undefined);
      }
    },

    /** Ends a conflict: with this window's state in place of the other's, or without it. */
    resolve(unsent: Unsent, whose: 'mine' | 'theirs'): Promise<void> {
      const { key } = unsent;
      const current = conflicts.get(key);
      conflicts.delete(key);
      const now = waiting.get(key);
      if (whose === 'theirs') waiting.delete(key);
      else if (now && current) waiting.set(key, { ...now, base: current.base, ...withoutBefore(now) } as Unsent);
      void store(key);
      tell();
      return flush();
    },

    /** Forgets what waits of a thing: it was deleted, or its fault told and taken back. */
    drop(kind: Unsent['kind'], id: string): void {
      const key = keyOf({ kind, id });
      waiting.delete(key);
      conflicts.delete(key);
      void store(key);
      tell();
    },

    /** Tries what was refused once more: its study may have been put back. */
    tryRefused(): Promise<void> {
      for (const unsent of waiting.values())
        if (unsent.refusal !== null) waiting.set(unsent.key, { ...unsent, refusal: null });
      return flush();
    },

    isSending: () => sending !== undefined,

    waitingOf: (kind: Unsent['kind'], id: string) => waiting.get(keyOf({ kind, id })),

    /** Takes over what windows that are gone have left to send. */
    async adopt(isGone: (windowId: string) => boolean): Promise<void> {
      for (const left of (await storage.all()).sort((a, b) => a.at - b.at)) {
        if (left.windowId === windowId || !isGone(left.windowId)) continue;
        // Under its own key, so that what is changed here meanwhile does not take its place.
        if (!waiting.has(left.key)) waiting.set(left.key, { ...left, isLeftover: true, refusal: null });
      }
      tell();
    },

    /** Resolves when all that is to be kept in the browser is. */
    async stored(): Promise<void> {
      await Promise.all([...writes.values()].map(({ done }) => done));
    },
  };
}

/** What a patch is sent as when the difference to what it was made on no longer says enough: whole. */
const withoutBefore = (unsent: Unsent) => (unsent.kind === 'patch' ? { body: { ...unsent.body, before: null } } : {});
