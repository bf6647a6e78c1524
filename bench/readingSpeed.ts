import { fork } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import type { ReadingTimes } from './readingSpeed.child';

/** Prints how long a cut of 30 s and a file of 5 minutes take to read, both in stereo, in a process of their own. */
export async function readingSpeed(): Promise<void> {
  const child = fork(fileURLToPath(new URL('readingSpeed.child.ts', import.meta.url)));
  const [{ noteSeconds, phraseSeconds, fileSeconds, peakMegabytes }] = (await once(child, 'message')) as [ReadingTimes];
  console.log(
    `one note of 30 s is read in ${noteSeconds.toFixed(1)} s, a phrase of 30 s in ${phraseSeconds.toFixed(1)} s`,
  );
  console.log(
    `tempo, key, exposed moments and sections of 5 minutes take ${fileSeconds.toFixed(1)} s; peak memory ${peakMegabytes.toFixed(0)} MB`,
  );
}
