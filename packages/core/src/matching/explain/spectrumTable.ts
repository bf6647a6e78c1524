import { cheapestPath } from '../../dsp/cheapestPath';
import { decibelsFromGain } from '../../dsp/decibels';
import type { LevelContour } from '../../reading/level/levelContour';
import { type PartialFrames, frameAmplitudes } from '../../reading/partials/partialFrames';
import { strongest } from '../../reading/spectra/filterTrack';

/** Partials that are looked at. */
export const PARTIALS = 20;
const FLOOR_DB = -60;
const FEWEST_FRAMES = 6;
/** Against the loudest frame: softer ones have no partials to tell by. */
const LOUD_SHARE = 0.02;

/** Levels of partials against the strongest. */
export function levelsOf(partials: ArrayLike<number>): Float64Array {
  const levels = Float64Array.from(partials, (amplitude) => Math.abs(amplitude));
  const top = levels.reduce((a, b) => Math.max(a, b), 1e-12);
  return levels.map((amplitude) => decibelsFromGain(amplitude / top, FLOOR_DB));
}

/** A number that partials tell from frame to frame, as places in a table of what it makes of them. */
export interface Followed {
  /** Numbers of the frames, one after the other. */
  frames: number[];
  path: number[];
  /** Root of the mean square of what the table leaves of the levels. */
  errorDb: number;
}

/**
 * Follows a number through the frames of a note by what it makes of the first partials: the cheapest path
 * through all of them (Viterbi 1967). Undefined where too few frames are loud.
 *
 * @param table levels of {@link PARTIALS} partials for every value of the number
 * @param price what a step from one place to the next has to explain better, dB²
 */
export function followTable(
  partials: PartialFrames,
  fromSeconds: number,
  table: readonly Float64Array[],
  price: number,
): Followed | undefined {
  const frames = loudFrames(partials, fromSeconds);
  if (frames.length < FEWEST_FRAMES) return undefined;
  const errors = frames.map((t) => {
    const own = frameAmplitudes(partials, t);
    const heard = levelsOf(Float64Array.from({ length: PARTIALS }, (_, k) => own[k] ?? 0));
    return Float64Array.from(table, (made) => unlike(heard, made));
  });
  const path = cheapestPath(errors, price);
  const squares = path.reduce((sum, place, i) => sum + errors[i][place], 0) / path.length;
  return { frames, path, errorDb: Math.sqrt(squares) };
}

/** The values that were followed, over the time of the note, as a contour is fitted. */
export function lineOf(
  partials: PartialFrames,
  { frames, path }: Followed,
  valueAt: (place: number) => number,
): LevelContour {
  const hopSeconds = partials.seconds[1] - partials.seconds[0];
  const rms = new Float64Array(frames[frames.length - 1] + 1);
  path.forEach((place, i) => (rms[frames[i]] = valueAt(place)));
  return { hopSeconds, windowSeconds: hopSeconds, rms };
}

const unlike = (a: Float64Array, b: Float64Array) => a.reduce((sum, db, k) => sum + (db - b[k]) ** 2, 0) / a.length;

/** Frames from the onset on until the tone is soft for the first time. */
function loudFrames(partials: PartialFrames, fromSeconds: number): number[] {
  const loudest = strongest(partials.amplitudes);
  const isLoud = (t: number) => strongest(frameAmplitudes(partials, t)) > LOUD_SHARE * loudest;
  const after = [...partials.seconds.keys()].filter((t) => partials.seconds[t] >= fromSeconds);
  const first = after.findIndex(isLoud);
  const soft = after.findIndex((t, i) => i > first && !isLoud(t));
  return first < 0 ? [] : after.slice(first, soft < 0 ? undefined : soft);
}
