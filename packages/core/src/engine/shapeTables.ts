import { type BandlimitedTable, type Harmonics, MAX_HARMONICS, tableFromHarmonics } from './bandlimitedTable';

/**
 * Fourier series of the plain shapes at ±1: sine; triangle 8/π²·Σ(−1)^k·sin((2k+1)φ)/(2k+1)²; falling-to-rising saw
 * −2/π·Σ(−1)^n·sin(nφ)/n. A pulse is read as the difference of two saws, so it needs no table of its own.
 */
const series = {
  sine: (n: number) => (n === 1 ? 1 : 0),
  triangle: (n: number) => (n % 2 === 0 ? 0 : ((8 / Math.PI ** 2) * (n % 4 === 1 ? 1 : -1)) / (n * n)),
  saw: (n: number) => ((2 / Math.PI) * (n % 2 === 1 ? 1 : -1)) / n,
} as const;

type TableShape = keyof typeof series;

const tables = new Map<TableShape, BandlimitedTable>();

/** The table of a plain shape, made at first use. */
export function shapeTable(shape: TableShape): BandlimitedTable {
  let table = tables.get(shape);
  if (!table) {
    const harmonics: Harmonics = {
      cosine: new Float64Array(MAX_HARMONICS + 1),
      sine: new Float64Array(MAX_HARMONICS + 1),
    };
    for (let n = 1; n <= MAX_HARMONICS; n++) harmonics.sine[n] = series[shape](n);
    tables.set(shape, (table = tableFromHarmonics([harmonics])));
  }
  return table;
}
