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

/** Ends running work at once. What was there before stays. */
export function cancelWork(): void {
  endTone();
  setState({ work: null });
}
