import { z } from 'zod';

/** Beats at even distances. */
export const gridSchema = z.object({
  bpm: z.number().min(20, 'A tempo lies between 20 and 400 BPM.').max(400, 'A tempo lies between 20 and 400 BPM.'),
  /** Time of any beat. */
  beatSeconds: z.number(),
});

export type Grid = z.infer<typeof gridSchema>;

export const beatLengthSeconds = ({ bpm }: Pick<Grid, 'bpm'>): number => 60 / bpm;

/** Half as many beats, or twice as many; the grid's own beat stays one. */
export const halved = ({ bpm, beatSeconds }: Grid): Grid => ({ bpm: bpm / 2, beatSeconds });
export const doubled = ({ bpm, beatSeconds }: Grid): Grid => ({ bpm: bpm * 2, beatSeconds });

export const nudged = ({ bpm, beatSeconds }: Grid, seconds: number): Grid => ({
  bpm,
  beatSeconds: beatSeconds + seconds,
});

/** Times of the beats within a stretch, its ends included. */
export function beatsWithin(grid: Grid, fromSeconds: number, toSeconds: number): number[] {
  const length = beatLengthSeconds(grid);
  const first = Math.ceil((fromSeconds - grid.beatSeconds) / length - 1e-9);
  const beats: number[] = [];
  for (let n = first; grid.beatSeconds + n * length <= toSeconds + 1e-9; n++) beats.push(grid.beatSeconds + n * length);
  return beats;
}

/** Taps that are further apart begin a new count. */
const PAUSE_SECONDS = 3;
const MIN_TAPS = 3;

/**
 * The grid that taps on the beat tell: a straight line through their times by least squares, so that one late
 * tap does little. Undefined for less than three taps in a row.
 *
 * @param taps times in seconds, rising
 */
export function gridOfTaps(taps: readonly number[]): Grid | undefined {
  const pause = taps.findLastIndex((at, i) => i > 0 && at - taps[i - 1] > PAUSE_SECONDS);
  const counted = taps.slice(Math.max(0, pause));
  if (counted.length < MIN_TAPS) return undefined;
  const middle = (counted.length - 1) / 2;
  const mean = counted.reduce((a, b) => a + b, 0) / counted.length;
  let product = 0;
  let power = 0;
  counted.forEach((at, i) => {
    product += (i - middle) * (at - mean);
    power += (i - middle) ** 2;
  });
  const length = product / power;
  const { success, data } = gridSchema.safeParse({ bpm: 60 / length, beatSeconds: mean - middle * length });
  return success ? data : undefined;
}
