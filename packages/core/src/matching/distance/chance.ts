import type { Cells } from './cells';
import { type Bands, hzOfErb, erbNumber } from './bands';

/** Voices that beat without a set phase: how far they are apart, and the partials' distance. */
export interface FreeVoices {
  f0Hz: number;
  detuneCents: number;
  /** Whether another source, which is no chance, lies under the lowest partial. */
  hasSub: boolean;
}

/** 10 / ln 10: decibels of a relative change of power. */
const DB_PER_NEPER = 10 / Math.LN10;

/**
 * Standard deviation, dB, of a mean of `n` independent powers that are each spread as those of many waves of
 * random phase (exponentially): 5.57 dB of one, 4.34/√n of many (trigamma function, Abramowitz & Stegun
 * 6.4.12).
 */
const deviationOf = (n: number) => DB_PER_NEPER * Math.sqrt(1 / n + 1 / (2 * n * n) + 1 / (6 * n ** 3));

const UNDER_LOWEST = 0.75;

/** Of a single such power. */
export const DEVIATION_OF_ONE_DB = deviationOf(1);

/**
 * How far the level of each cell and band is from what it is on the average, by chance alone, where partials
 * are several voices whose phases nobody sets: dB, `cells × bands`. Lines of `Δf` Hz are independent every
 * 1/Δf s; several partials within `reachErb` to either side even one another out.
 */
export function chanceOf(
  { f0Hz, detuneCents, hasSub }: FreeVoices,
  { count, centresHz }: Bands,
  cells: Cells,
  reachErb: number,
): Float64Array {
  const result = new Float64Array((cells.length - 1) * count);
  for (let b = 0; b < count; b++) {
    const hz = centresHz[b];
    if (hasSub && hz < UNDER_LOWEST * f0Hz) continue;
    const erb = erbNumber(hz);
    const partials = Math.max(1, (hzOfErb(erb + reachErb) - hzOfErb(Math.max(0, erb - reachErb))) / 2 / f0Hz);
    const lineHz = Math.max(hz, f0Hz) * (2 ** (detuneCents / 1200) - 1);
    for (let c = 0; c < cells.length - 1; c++) {
      result[c * count + b] = deviationOf(partials * (1 + lineHz * (cells[c + 1] - cells[c])));
    }
  }
  return result;
}
