import { readTone } from '@imprint/core/reading/read';
import type { Reading } from '@imprint/core/reading/schema';
import { createRandom } from '../../packages/core/test/signals';

export const RATE_HZ = 44100;

/** One value that was read against what it should be. */
export interface Check {
  /** What it was of, what was wanted and what was read. */
  words: string;
  right: boolean;
  /** As the reading says; undefined where it says none. */
  confidence?: number;
}

/** One line of the table: a figure that readings have to reach. */
export interface Figure {
  name: string;
  /** Share of the checks that have to be right. */
  share: number;
  checks: () => Iterable<Check>;
}

/** Reads sounds by formula, as the command line does. */
export function read(...channels: ArrayLike<number>[]): Reading {
  return readTone({ channels: channels.map((channel) => Float32Array.from(channel)), sampleRateHz: RATE_HZ });
}

/** Within a ratio, or within an absolute distance. */
export const near = (found: number | null, wanted: number, ratio: number, absolute = 0): boolean =>
  found !== null && Math.abs(found - wanted) <= Math.max(ratio * Math.abs(wanted), absolute);

/** Within a number of octaves. */
export const nearOctaves = (found: number | null, wanted: number, octaves: number): boolean =>
  found !== null && Math.abs(Math.log2(found / wanted)) <= octaves;

export const check = (words: string, wanted: unknown, found: unknown, right: boolean, confidence?: number): Check => ({
  words: `${words}: wanted ${show(wanted)}, read ${show(found)}`,
  right,
  confidence,
});

function show(value: unknown): string {
  return typeof value === 'number' ? Number(value.toPrecision(4)).toString() : String(value);
}

/** Values between two, evenly over their logarithm, the same every time. */
export function createDice(seed: number) {
  const random = createRandom(seed);
  return {
    random,
    between: (low: number, high: number) => low * (high / low) ** random(),
    pick: <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)],
  };
}

/** A level that rises, falls to a sustain and is let go; times in seconds. */
export const held =
  ({ attack = 0.01, off = Infinity, release = 0.1, sustain = 1, decay = 0.3 } = {}) =>
  (t: number): number => {
    const on = (at: number) => (at < attack ? at / attack : sustain + (1 - sustain) * 0.05 ** ((at - attack) / decay));
    return t < off ? on(t) : on(off) * 10 ** ((-3 * (t - off)) / release);
  };
