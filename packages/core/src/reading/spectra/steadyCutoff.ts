import { type PartialFrames, frameAmplitudes } from '../partials/partialFrames';
import { median } from '../statistics';
import type { FilterTrack } from './filterTrack';

/** Frames further under the loudest tell the room's noise in place of a cutoff. */
const LOUD_SHARE = 0.025;
/** Frames to either side that a cutoff is the middle of: voices that beat make it stray. */
const SMOOTHED = 2;

/**
 * Cutoffs of frames where the note is loud, in octaves of Hz, each the median of its neighbours; else NaN.
 *
 * @param untilSeconds from when on something else is heard as well
 */
export function steadyOctaves(
  { cutoffHz, seconds }: FilterTrack,
  partials: PartialFrames | undefined,
  untilSeconds = Infinity,
): Float64Array {
  const powers = Array.from(cutoffHz, (_, t) => (partials ? frameAmplitudes(partials, t).reduce(sumOfSquares, 0) : 1));
  const least = LOUD_SHARE ** 2 * Math.max(...powers);
  const loud = cutoffHz.map((hz, t) => (powers[t] >= least && seconds[t] < untilSeconds ? Math.log2(hz) : NaN));
  return loud.map((octave, t) =>
    Number.isFinite(octave)
      ? median([...loud.subarray(Math.max(0, t - SMOOTHED), t + SMOOTHED + 1)].filter(Number.isFinite))
      : NaN,
  );
}

const sumOfSquares = (sum: number, a: number) => sum + a * a;
