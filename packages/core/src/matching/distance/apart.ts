import { DEVIATION_OF_ONE_DB } from './chance';
import { type Flutter, LAGS, POOLED_ERB } from './flutter';
import { type Levels, type PreparedScale, type RowChance, TOGETHER_ERB } from './prepare';

/** Differences count once they are larger than what chance makes. */
const CHANCE_EXCUSES = 16;
/** Of what all bands have in common, whose chance is small and well known, less has to be excused. */
const COMMON_EXCUSES = 20;
/**
 * Of how deep all bands flutter on the average: it is off by half as much as the bands' own would make it if
 * those that are told together strayed as one (found by 36 sets of voices, each played three times), and what
 * is heard of it does not hang on single beats.
 */
const DEPTHS_STRAY = 0.25;
const COMMON_DEPTH_COUNTS = 2;
const COMMON_DEPTH_EXCUSES = 5;
/** A single beat is so many times its depth off. */
const CHANCE_OF_DEPTH = 1.6;

/** The square of a difference less what chance excuses; it rises all the way. */
function excused(difference: number, chance: number, excuses = CHANCE_EXCUSES): number {
  const square = difference * difference;
  return chance === 0 ? square : square * (square / (square + excuses * chance * chance)) ** 4;
}

/**
 * Mean square of what two rows of levels are apart; louder bands count more. What a band shares with its
 * neighbours is less of a chance, since each partial strays by itself: it is told apart from the band's own.
 */
function rowApart(a: Float64Array, b: Float64Array, reach: number, chance?: RowChance): [number, number] {
  const { length } = a;
  let sum = 0;
  let weights = 0;
  for (let band = 0; band < length; band++) {
    const weight = Math.sqrt(Math.max(a[band], b[band]));
    const apart = a[band] - b[band];
    weights += weight;
    if (!chance) {
      sum += weight * apart * apart;
      continue;
    }
    let shared = 0;
    let loudness = 1e-9;
    for (let n = Math.max(0, band - reach); n <= Math.min(length - 1, band + reach); n++) {
      const w = Math.sqrt(Math.max(a[n], b[n]));
      shared += w * (a[n] - b[n]);
      loudness += w;
    }
    shared /= loudness;
    sum += weight * (excused(shared, chance.shared[band]) + excused(apart - shared, chance.own[band]));
  }
  if (!chance) return [sum, weights];
  const { level, deviation } = commonLevel(a, b, chance.own);
  const square = level * level;
  return [sum + (weights * square * square) / (square + COMMON_EXCUSES * deviation * deviation + 1e-9), weights];
}

/** Bands overlap by half, and one low partial fills several: so many of them stray as one. */
const STRAY_AS_ONE = 4;

/**
 * What all bands have in common, most of it by those that are least of a chance (weights by the inverse of
 * their variance), and how far that is off by chance itself.
 */
function commonLevel(a: Float64Array, b: Float64Array, chance: Float64Array): { level: number; deviation: number } {
  let sum = 0;
  let weights = 1e-9;
  let squares = 0;
  for (let band = 0; band < a.length; band++) {
    const variance = chance[band] ** 2 + 0.1;
    const weight = Math.sqrt(Math.max(a[band], b[band])) / variance;
    sum += weight * (a[band] - b[band]);
    weights += weight;
    squares += weight * weight * variance;
  }
  return { level: sum / weights, deviation: Math.sqrt(STRAY_AS_ONE * squares) / weights };
}

/** Mean squares of what levels of cells, and of the whole, are apart. */
export function levelsApart(a: Levels, b: Levels, { cells, chance, stepErb }: PreparedScale) {
  const { count } = a;
  const reach = Math.round(TOGETHER_ERB / stepErb);
  let moments = 0;
  let weights = 1e-9;
  for (let c = 0; c < cells.length - 1; c++) {
    const [from, to] = [c * count, (c + 1) * count];
    const row = chance && { own: chance.own.subarray(from, to), shared: chance.shared.subarray(from, to) };
    const [sum, weight] = rowApart(a.cells.subarray(from, to), b.cells.subarray(from, to), reach, row);
    const duration = (cells[c + 1] - cells[c]) ** 0.9;
    moments += duration * sum;
    weights += duration * weight;
  }
  const [whole, wholeWeights] = rowApart(a.whole, b.whole, reach, chance?.whole);
  return { moments: moments / weights, whole: whole / (wholeWeights + 1e-9) };
}

/**
 * Mean square of how much deeper one flutters than the other: half of it by band, half what they share.
 * Where voices beat by chance, each band has few beats to tell their depth by, but all bands together have
 * many: how much deeper they are on the average is told apart from the band's own.
 */
export function flutterApart(a: Flutter, b: Flutter, stepErb: number, chance?: Float64Array): number {
  // Where the level of the whole is chance, so is how deep its beats are: few of them fit in.
  const off = (depth: number, band: number) => {
    if (!chance) return 0;
    return (CHANCE_OF_DEPTH * depth * chance[Math.min(band, chance.length - 1)]) / DEVIATION_OF_ONE_DB;
  };
  const bands = a.levels.map((level, band) => Math.max(level, b.levels[band]));
  const weights = bands.reduce((sum, weight) => sum + weight, 1e-9);
  let sum = 0;
  LAGS.forEach((_, l) => {
    let common = 0;
    let squares = 0;
    if (chance) {
      bands.forEach((weight, band) => {
        const depth = Math.max(a.depths[band][l], b.depths[band][l]);
        common += (weight * (a.depths[band][l] - b.depths[band][l])) / weights;
        squares += ((weight / weights) * off(depth, band)) ** 2;
      });
      sum +=
        COMMON_DEPTH_COUNTS *
        excused(common, Math.sqrt(DEPTHS_STRAY * (POOLED_ERB / stepErb) * squares), COMMON_DEPTH_EXCUSES);
    }
    bands.forEach((weight, band) => {
      const depth = a.depths[band][l];
      sum += (weight / weights) * excused(depth - b.depths[band][l] - common, off(depth, band));
    });
  });
  const shared = a.shared.map((depth, l) => excused(depth - b.shared[l], off(depth, a.levels.length) / 2));
  return (sum / LAGS.length + mean(shared)) / 2;
}

const mean = (values: readonly number[]) => values.reduce((sum, x) => sum + x, 0) / values.length;
