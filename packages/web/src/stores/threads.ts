import { type RunningWorker, startMediaWorker, startToneWorker } from '../workers/workers';
import type { MediaWorker } from '../workers/media.worker';
import type { ToneWorker } from '../workers/tone.worker';

let media: RunningWorker<MediaWorker> | undefined;
let tone: RunningWorker<ToneWorker> | undefined;

/** The thread that holds the reference of the open study. */
export const startMedia = () => (media = startMediaWorker()).api;
export const mediaApi = () => media?.api;

/** The thread for readings and prints, started at first need and after a cancel. */
export const toneThread = () => (tone ??= startToneWorker());
export const toneApi = () => toneThread().api;
/** Whether a thread is still the one in use: what an ended one said does not count. */
export const isRunning = (thread: RunningWorker<ToneWorker>) => tone === thread;

export function endTone(): void {
  tone?.end();
  tone = undefined;
}

export function endThreads(): void {
  media?.end();
  media = undefined;
  endTone();
}
