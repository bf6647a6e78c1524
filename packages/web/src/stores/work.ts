import { messageOf, useStudyStore } from './studyStore';
import { endTone, isRunning, mediaApi, toneThread } from './threads';

const { setState } = useStudyStore;

/** Runs one piece of work with its progress shown; says what went wrong, unless it was cancelled. */
export async function doWork<T>(
  title: string,
  run: (report: (fraction: number) => void) => Promise<T>,
): Promise<T | undefined> {
  setState({ work: { title, fraction: 0 }, workFailure: null });
  restWholeFile(true);
  const thread = toneThread();
  try {
    return await run((fraction) => setState({ work: { title, fraction } }));
  } catch (error) {
    if (isRunning(thread)) setState({ workFailure: messageOf(error) });
    return undefined;
  } finally {
    if (isRunning(thread)) setState({ work: null });
    restWholeFile(false);
  }
}

/**
 * Lets the work on the whole file rest, or go on. A study that is closed meanwhile ends its thread, and the
 * rest with it.
 */
function restWholeFile(resting: boolean): void {
  mediaApi()
    ?.pause(resting)
    .catch(() => undefined);
}

/**
 * Waits for the work that is running, whose progress says what comes next; at once where none is. False when
 * it was cancelled or failed, or when something waits already.
 */
export function afterWork(next: string): Promise<boolean> {
  const { work, queued } = useStudyStore.getState();
  if (!work) return Promise.resolve(true);
  if (queued !== null) return Promise.resolve(false);
  setState({ queued: next });
  return new Promise((resolve) => {
    const stop = useStudyStore.subscribe((state) => {
      if (state.work && state.queued !== null) return;
      stop();
      const goesOn = state.queued !== null && state.workFailure === null;
      setState({ queued: null });
      resolve(goesOn);
    });
  });
}

/** Ends running work, and what waits for it, at once. What was there before stays. */
export function cancelWork(): void {
  endTone();
  setState({ work: null, queued: null });
}
