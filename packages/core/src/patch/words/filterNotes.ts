import { formatSize } from '../../parameters/format';
import type { Filter } from '../schema';

const STEPS = 400;
/** Highest frequency, over the cutoff, at which a ladder has its peak. */
const HIGHEST = 1.05;

/**
 * How far a ladder of four poles peaks over its lows, in dB: the highest of
 * (1 + k) / |(1 + jw)⁴ + k| with k four times the feedback; infinite from a feedback of 100 % on.
 */
export function ladderResonanceDb(feedbackPercent: number): number {
  if (feedbackPercent >= 100) return Infinity;
  const k = feedbackPercent / 25;
  let least = (1 + k) ** 2;
  for (let i = 1; i <= STEPS; i++) {
    const w = (HIGHEST * i) / STEPS;
    const real = 1 - 6 * w ** 2 + w ** 4 + k;
    const imaginary = 4 * w - 4 * w ** 3;
    least = Math.min(least, real ** 2 + imaginary ** 2);
  }
  return 10 * Math.log10((1 + k) ** 2 / least);
}

/**
 * What is said behind the names of some of a filter's numbers: a resonance is told in decibels, whatever sets
 * it.
 */
export function filterNotes(filter: Filter): Readonly<Record<string, string>> {
  if (filter.kind !== 'ladder') return {};
  const db = ladderResonanceDb(filter.resonance);
  return { resonance: db === Infinity ? 'rings by itself' : `resonance ${formatSize(Math.round(10 * db) / 10, 'dB')}` };
}
