import { decibelsFromPower } from '../../dsp/decibels';
import type { PartialFrames } from '../../reading/partials/partialFrames';
import { median } from '../../reading/statistics';

export interface NoiseBand {
  lowHz: number;
  highHz: number;
  slopeDbPerOctave: number;
}

const BAND_OCTAVES = 0.5;
/** What is higher, which fast rates hold, is not heard. */
export const TOP_HZ = 20000;
const BOTTOM_HZ = 20;
/** White, pink, brown. */
const SLOPES = [0, -3, -6];
/** A band's density is in the noise down to so much under the highest, once its slope is taken out. */
const WITHIN_DB = 8;
const LEAST_FRAMES = 3;

/**
 * Where noise beside partials reaches from and to, and its colour, by what stands halfway between partials:
 * of three colours the one under which most octaves are equally dense. Undefined where there are too few
 * frames to tell.
 */
export function noiseBand(frames: PartialFrames, fromSeconds: number, toSeconds: number): NoiseBand | undefined {
  const { seconds, between, count, f0Hz } = frames;
  const chosen = [...seconds.keys()].filter((t) => seconds[t] >= fromSeconds && seconds[t] <= toSeconds);
  if (chosen.length < LEAST_FRAMES || count < 2) return undefined;
  const bands: { fromHz: number; toHz: number; db: number }[] = [];
  for (let fromHz = f0Hz; fromHz < Math.min(TOP_HZ, f0Hz * count); fromHz *= 2 ** BAND_OCTAVES) {
    const toHz = fromHz * 2 ** BAND_OCTAVES;
    const powers: number[] = [];
    for (let n = 0; n < count; n++) {
      const hz = (n + 1.5) * f0Hz;
      if (hz >= fromHz && hz < toHz) powers.push(median(chosen.map((t) => between[t * count + n])));
    }
    if (powers.length > 0)
      bands.push({ fromHz, toHz, db: decibelsFromPower(powers.reduce((a, b) => a + b, 0) / powers.length) });
  }
  if (bands.length === 0) return undefined;
  const runs = SLOPES.map((slope) => {
    const level = bands.map(({ db, fromHz }) => db - slope * Math.log2(fromHz / 1000));
    const highest = level.indexOf(Math.max(...level));
    const isIn = (i: number) => level[i] > level[highest] - WITHIN_DB;
    let [first, last] = [highest, highest];
    while (first > 0 && isIn(first - 1)) first--;
    while (last < level.length - 1 && isIn(last + 1)) last++;
    return { slope, first, last };
  });
  const widest = runs.reduce((best, run) => (run.last - run.first > best.last - best.first ? run : best));
  return {
    lowHz: widest.first === 0 ? BOTTOM_HZ : Math.round(bands[widest.first].fromHz),
    highHz: widest.last === bands.length - 1 ? TOP_HZ : Math.min(TOP_HZ, Math.round(bands[widest.last].toHz)),
    slopeDbPerOctave: widest.slope,
  };
}
