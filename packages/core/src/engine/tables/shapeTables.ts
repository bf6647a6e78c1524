import { type BandlimitedTable, type Harmonics, MAX_HARMONICS, tableFromHarmonics } from './bandlimitedTable';

/**
 * Fourier series of the plain shapes at ±1: sine; triangle 8/π²·Σ(−1)^k·sin((2k+1)φ)/(2k+1)²;
 * falling-to-rising saw −2/π·Σ(−1)^n·sin(nφ)/n. A pulse is read as the difference of two saws, so it needs no
 * frame of its own.
 */
const series = [
  (n: number) => (n === 1 ? 1 : 0),
  (n: number) => (n % 2 === 0 ? 0 : ((8 / Math.PI ** 2) * (n % 4 === 1 ? 1 : -1)) / (n * n)),
  (n: number) => ((2 / Math.PI) * (n % 2 === 1 ? 1 : -1)) / n,
] as const;

let table: BandlimitedTable | undefined;

/**
 * Sine, triangle and saw as the frames of one table, so that a shape can morph into its neighbour. Made at
 * first use.
 */
export function shapeTable(): BandlimitedTable {
  table ??= tableFromHarmonics(
    series.map((amplitude): Harmonics => {
      const harmonics = { cosine: new Float64Array(MAX_HARMONICS + 1), sine: new Float64Array(MAX_HARMONICS + 1) };
      for (let n = 1; n <= MAX_HARMONICS; n++) harmonics.sine[n] = amplitude(n);
      return harmonics;
    }),
  );
  return table;
}
