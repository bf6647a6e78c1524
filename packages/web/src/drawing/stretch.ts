/** A stretch of an axis, in seconds or Hz. */
export interface Stretch {
  min: number;
  max: number;
  /** Whether it is divided by ratios. */
  log?: boolean;
}

/** All that the pictures of frequency show. */
export const ALL_HZ: Stretch = { min: 25, max: 20_000, log: true };

/** Shorter stretches show nothing more. */
const LEAST_SHARE = 0.01;
/** One step of the keys. */
const STEP = 0.6;

/** Where a value is along a stretch: 0..1, outside it less or more. */
export const placeOf = ({ min, max, log }: Stretch, value: number): number =>
  log ? Math.log(value / min) / Math.log(max / min) : (value - min) / (max - min);

/** The value at a share of a stretch. */
export const valueAt = ({ min, max, log }: Stretch, share: number): number =>
  log ? min * (max / min) ** share : min + share * (max - min);

/** A stretch between two shares of what is shown, not too short; null where that is all there is. */
export function stretchBetween(whole: Stretch, shown: Stretch, from: number, to: number): Stretch | null {
  const [a, b] = [Math.min(from, to), Math.max(from, to)].map((share) => placeOf(whole, valueAt(shown, share)));
  const length = Math.max(LEAST_SHARE, b - a);
  if (length >= 0.999) return null;
  const start = Math.min(1 - length, Math.max(0, (a + b - length) / 2));
  return { ...whole, min: valueAt(whole, start), max: valueAt(whole, start + length) };
}

/** A step nearer or further, with one value staying where it is; null once all is shown. */
export function zoomed(whole: Stretch, shown: Stretch, isNearer: boolean, around: number): Stretch | null {
  const factor = isNearer ? STEP : 1 / STEP;
  const still = Math.min(1, Math.max(0, placeOf(shown, around)));
  return stretchBetween(whole, shown, still - still * factor, still + (1 - still) * factor);
}
