import { type Confirmed, createOutbox } from './outbox';
import { useSaving } from './savingStore';
import { senders } from './senders';
import type { Unsent } from './unsent';
import { browserStorage, memoryStorage } from './unsentStorage';

/** This window, as long as its page is open. */
export const windowId = crypto.randomUUID();
/** Undefined where a browser has none, and in tests outside one. */
const locks = globalThis.navigator?.locks as LockManager | undefined;
const lockOf = (id: string) => `imprint-window-${id}`;

type Listener = {
  onConfirmed(unsent: Unsent, confirmed: Confirmed, isLast: boolean): void;
};
const listeners = new Set<Listener>();

/** Calls when changes arrived; returns what ends that. */
export function onSaved(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** What is changed in this page, on its way to the server. */
export const outbox = createOutbox({
  windowId,
  storage: typeof indexedDB === 'undefined' ? memoryStorage() : browserStorage(),
  senders,
  events: {
    onState: (state, reason) => useSaving.setState({ state, reason }),
    onConfirmed: (...words) => listeners.forEach(({ onConfirmed }) => onConfirmed(...words)),
    onConflict: (unsent, current) =>
      useSaving.setState(({ conflicts }) => ({
        deciding: true,
        conflicts: [...conflicts.filter((other) => other.unsent.key !== unsent.key), { unsent, current }],
      })),
  },
});

/** Ends a conflict. */
export async function resolveConflict(unsent: Unsent, whose: 'mine' | 'theirs'): Promise<void> {
  useSaving.setState(({ conflicts }) => ({ conflicts: conflicts.filter((other) => other.unsent.key !== unsent.key) }));
  await outbox.resolve(unsent, whose);
}

/**
 * Which windows of this browser are open: each holds a lock of its name until it is gone, however it goes.
 */
async function openWindows(): Promise<Set<string>> {
  const { held = [] } = (await locks?.query()) ?? {};
  return new Set(held.map(({ name }) => name ?? ''));
}

let firstLeftovers: Promise<void> | undefined;

/** Sends what windows that are gone had left. */
export async function sendLeftovers(): Promise<void> {
  try {
    const open = await openWindows();
    await outbox.adopt((id) => !open.has(lockOf(id)));
    await outbox.flush();
  } catch (error) {
    console.error(error);
  }
}

/**
 * What was left before this page was opened is sent once, before anything is shown; resolves when that was
 * done or had to be put off.
 */
export function sendFirstLeftovers(): Promise<void> {
  firstLeftovers ??= (async () => {
    void locks?.request(lockOf(windowId), () => new Promise(() => {}));
    await sendLeftovers();
  })();
  return firstLeftovers;
}

/** Sends what there is when the page is hidden or left. Returns what undoes that. */
export function sendOnLeaving(): () => void {
  const leave = () => outbox.leave();
  const hide = () => document.visibilityState === 'hidden' && void outbox.flush();
  const back = () => void outbox.flush();
  window.addEventListener('pagehide', leave);
  document.addEventListener('visibilitychange', hide);
  window.addEventListener('online', back);
  return () => {
    window.removeEventListener('pagehide', leave);
    document.removeEventListener('visibilitychange', hide);
    window.removeEventListener('online', back);
  };
}
