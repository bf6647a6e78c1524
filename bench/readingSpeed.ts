import { fork } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { evaluateInChromium } from './evaluateInChromium';
import type { CutTimes } from './longCuts';
import type { ReadingTimes } from './readingSpeed.child';

/**
 * Prints how long cuts of 30 s and a file of 5 minutes take to read, all in stereo, in a process of their
 * own; the cuts in Chromium too.
 */
export async function readingSpeed(): Promise<void> {
  const child = fork(fileURLToPath(new URL('readingSpeed.child.ts', import.meta.url)));
  const [{ fileSeconds, peakMegabytes, ...cuts }] = (await once(child, 'message')) as [ReadingTimes];
  print('Node.js', cuts);
  print('Chromium', await evaluateInChromium<CutTimes>('readLongCuts.page.ts', 'readLongCuts()'));
  console.log(
    `tempo, key, exposed moments and sections of 5 minutes take ${fileSeconds.toFixed(1)} s; peak memory ${peakMegabytes.toFixed(0)} MB`,
  );
}

const print = (place: string, { noteSeconds, phraseSeconds }: CutTimes) =>
  console.log(
    `one note of 30 s is read in ${noteSeconds.toFixed(1)} s, a phrase of 30 s in ${phraseSeconds.toFixed(1)} s (${place})`,
  );
