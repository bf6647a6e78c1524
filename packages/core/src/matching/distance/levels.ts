import { quietDb } from './bands';
import type { HeardScale } from './hear';

/** Under the reference's loudest band, where nothing counts any more. */
const FLOOR_DB = 60;
/** Sounds are compared at this level, dB SPL for a power of 1: −23 LUFS played at 83 dB, as mixes are. */
const FULL_SCALE_DB_SPL = 106;

/** Power in each band under which nothing is heard; it is added to both sounds, so that nothing jumps. */
export function floorsOf({ bands, mid }: HeardScale): Float64Array {
  let loudest = 0;
  for (let i = 0; i < mid.length; i++) loudest = Math.max(loudest, mid[i]);
  const covered = loudest * 10 ** (-FLOOR_DB / 10);
  return bands.centresHz.map((hz) => covered + 10 ** ((quietDb(hz) - FULL_SCALE_DB_SPL) / 10));
}

/** Mean powers of cells, `cells × bands`. */
export function cellPowers({ bands, hopSeconds, frames, cells }: HeardScale, powers: Float64Array): Float64Array {
  const { count } = bands;
  const result = new Float64Array((cells.length - 1) * count);
  for (let c = 0; c < cells.length - 1; c++) {
    const from = Math.min(frames - 1, Math.ceil(cells[c] / hopSeconds - 1e-6));
    const to = Math.max(from + 1, Math.min(frames, Math.ceil(cells[c + 1] / hopSeconds - 1e-6)));
    for (let f = from; f < to; f++) {
      for (let b = 0; b < count; b++) result[c * count + b] += powers[f * count + b] / (to - from);
    }
  }
  return result;
}

/** Levels over floors, dB; the floors are repeated as often as need be. */
export function levelsOver(powers: Float64Array, floors: Float64Array): Float64Array {
  const { length } = floors;
  return powers.map((power, i) => 10 * Math.log10(1 + power / floors[i % length]));
}
