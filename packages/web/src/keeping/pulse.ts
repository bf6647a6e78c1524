import { create } from 'zustand';
import { RequestError, client } from '../api/client';
import { outbox, sendLeftovers, windowId } from './keeping';

interface PulseState {
  /** Why nothing can be saved at present; null while the server and its database answer. */
  away: string | null;
  /** Other windows that have the open study open. */
  others: number;
  /** Number of the newest revision on the server; null before the first. */
  revision: number | null;
}

const none: PulseState = { away: null, others: 0, revision: null };
export const usePulse = create<PulseState>(() => none);

const EVERY_MS = 6000;
const WHILE_AWAY_MS = 1500;

/**
 * Tells the server that this window has a study open, and learns what others do and whether it is there.
 * Returns what ends it.
 */
export function startPulse(studyId: string): () => void {
  let over = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const beat = async () => {
    const wasAway = usePulse.getState().away !== null;
    try {
      const { others, revision } = await client.pulse(studyId, windowId);
      if (over) return;
      usePulse.setState({ away: null, others, revision });
      if (wasAway) void outbox.flush();
      // Another window may have gone meanwhile with more than could go with it.
      if (!outbox.isSending()) void sendLeftovers();
    } catch (error) {
      if (over) return;
      const passing = error instanceof RequestError && error.isPassing;
      usePulse.setState(passing ? { away: error.message } : none);
    }
    timer = setTimeout(() => void beat(), usePulse.getState().away === null ? EVERY_MS : WHILE_AWAY_MS);
  };
  // A page that goes away does so without a word to its parts.
  const leave = () => void client.leave(studyId, windowId).catch(() => undefined);
  window.addEventListener('pagehide', leave);
  void beat();
  return () => {
    over = true;
    clearTimeout(timer);
    usePulse.setState(none);
    window.removeEventListener('pagehide', leave);
    leave();
  };
}
