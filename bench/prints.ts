import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { renderPatch } from '@imprint/core/engine/render';
import { parsePatch } from '@imprint/core/patch/parse';
import type { Patch } from '@imprint/core/patch/schema';
import { randomPatch } from '../packages/core/test/patches';
import { createRandom } from '../packages/core/test/signals';

const COUNT = 200;
const RATE_HZ = 44100;
const SECONDS = 0.8;

interface Print {
  patch: Patch;
  midi: number;
  /** SHA-256 of the samples of both sides. */
  hash: string;
}

function printOf(patch: Patch, midi: number): string {
  const notes = [
    { onsetSeconds: 0, durationSeconds: 0.4, midi, velocity: 110 },
    { onsetSeconds: 0.2, durationSeconds: 0.4, midi: midi + 7, velocity: 70 },
  ];
  const hash = createHash('sha256');
  for (const channel of renderPatch({ patch, notes, sampleRateHz: RATE_HZ, seconds: SECONDS })) hash.update(channel);
  return hash.digest('hex');
}

/**
 * Keeps the prints of 200 seeded patches in the file PRINTS the first time, and says from then on which of
 * them have changed: a pure move of code changes none.
 */
export function prints(): void {
  const file = process.env.PRINTS ?? '';
  if (file === '') throw new Error('PRINTS has to name the file in which the prints are kept.');
  if (!existsSync(file)) {
    const kept = Array.from({ length: COUNT }, (_, i): Print => {
      const random = createRandom(50_000 + i);
      const patch = randomPatch(random);
      const midi = Math.round(30 + 50 * random());
      return { patch, midi, hash: printOf(patch, midi) };
    });
    writeFileSync(file, JSON.stringify(kept));
    console.log(`${COUNT} prints are kept in ${file}`);
    return;
  }
  const kept = JSON.parse(readFileSync(file, 'utf8')) as Print[];
  const changed = kept.flatMap(({ patch, midi, hash }, i) => (printOf(parsePatch(patch), midi) === hash ? [] : [i]));
  console.log(`${kept.length} prints, ${changed.length} changed${changed.length > 0 ? `: ${changed.join(', ')}` : ''}`);
}
