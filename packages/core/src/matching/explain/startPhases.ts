import { fitLine } from '../../reading/statistics';
import type { Evidence } from './hypothesis';
import type { Part } from './sources';

/** How a source stands to the first one: where in its period it begins, and how loud it is. */
export interface Standing {
  startPhaseCycles: number;
  /** Against what the partials' powers alone said, dB. */
  louderDb: number;
}

const MOST_PARTIALS = 24;
const FLOOR_DB = -50;
/** Places in the period and levels that are tried. */
const PHASES = 64;
const LEVELS_DB = Array.from({ length: 17 }, (_, i) => 1.5 * (i - 8));
/** Worth telling if so much less of the partials is left. */
const WORTHWHILE = 0.8;

/**
 * Partials of two sources at one place add up by their phases, so their levels tell how the periods stand to
 * one another, and how loud the one is whose partials all lie on those of the other. Tried at 64 places and
 * 17 levels for each source but the first, a straight tilt of the whole being left to the filter. Undefined
 * for a source whose partials meet none, and where nothing is gained by it.
 */
export function standingsOf(parts: readonly Part[], { note }: Evidence): (Standing | undefined)[] {
  const { partials, pitch } = note.reading.traits;
  const nothing = parts.map(() => undefined);
  if (!note.partials || pitch.f0Hz === null || parts.length < 2 || parts.some(({ shape }) => shape === 'pulse'))
    return nothing;
  const root = pitch.f0Hz / note.partials.f0Hz;
  const multiples = parts.map(({ semitones }) => Math.round(root * 2 ** (semitones / 12)));
  const levelsDb = partials.levelsDb.slice(0, MOST_PARTIALS);
  const standings: Standing[] = parts.map(() => ({ startPhaseCycles: 0, louderDb: 0 }));
  const errorOf = (tried: readonly Standing[]) =>
    tiltedErrorDb(levelsDb, sumsDb(parts, multiples, tried, levelsDb.length));
  const before = errorOf(standings);
  let least = before;
  for (let i = 1; i < parts.length; i++) {
    if (!meetsAny(i, parts, multiples)) continue;
    let best = standings[i];
    for (const louderDb of LEVELS_DB)
      for (let place = 0; place < PHASES; place++) {
        const tried = standings.with(i, { startPhaseCycles: place / PHASES, louderDb });
        const error = errorOf(tried);
        if (error < least) [least, best] = [error, tried[i]];
      }
    standings[i] = best;
  }
  return least < WORTHWHILE * before ? standings.map((standing, i) => (i === 0 ? undefined : standing)) : nothing;
}

/** Whether a partial of a source lies on one of those before it. */
function meetsAny(i: number, parts: readonly Part[], multiples: readonly number[]): boolean {
  const has = (k: number, partial: number) =>
    partial % multiples[k] === 0 && coefficient(parts[k].shape, partial / multiples[k]) !== 0;
  for (let partial = 1; partial <= MOST_PARTIALS; partial++)
    if (has(i, partial) && parts.slice(0, i).some((_, k) => has(k, partial))) return true;
  return false;
}

/** Sine coefficients of the engine's shapes (see `shapeTables`). */
function coefficient(shape: Part['shape'], n: number): number {
  if (shape === 'sine') return n === 1 ? 1 : 0;
  if (shape === 'saw') return (n % 2 === 1 ? 1 : -1) / n;
  if (n % 2 === 0) return 0;
  return shape === 'triangle' ? (n % 4 === 1 ? 1 : -1) / (n * n) : 1 / n;
}

/** Root of the power that a shape has, by which parts' levels are told. */
function strengthOf(shape: Part['shape']): number {
  let sum = 0;
  for (let n = 1; n <= MOST_PARTIALS; n++) sum += coefficient(shape, n) ** 2;
  return Math.sqrt(sum);
}

/** Levels of the partials that sources make together. */
function sumsDb(
  parts: readonly Part[],
  multiples: readonly number[],
  standings: readonly Standing[],
  count: number,
): Float64Array {
  const [re, im] = [new Float64Array(count), new Float64Array(count)];
  parts.forEach(({ shape, levelDb }, i) => {
    const { startPhaseCycles, louderDb } = standings[i];
    const gain = 10 ** ((levelDb + louderDb) / 20) / strengthOf(shape);
    for (let n = 1; n * multiples[i] <= count; n++) {
      const a = gain * coefficient(shape, n);
      const at = n * multiples[i] - 1;
      re[at] += a * Math.cos(2 * Math.PI * n * startPhaseCycles);
      im[at] += a * Math.sin(2 * Math.PI * n * startPhaseCycles);
    }
  });
  return re.map((x, n) => 20 * Math.log10(Math.hypot(x, im[n]) + 1e-6));
}

/** What is left between levels once a straight line over octaves has been taken off, dB. */
function tiltedErrorDb(levelsDb: readonly number[], sums: Float64Array): number {
  const heard = [...levelsDb.keys()].filter((n) => levelsDb[n] > FLOOR_DB);
  const octaves = heard.map((n) => Math.log2(n + 1));
  const off = heard.map((n) => Math.max(-12, Math.min(12, levelsDb[n] - sums[n])));
  const weights = heard.map((n) => (n + 1) ** -0.3);
  const { slope, intercept } = fitLine(octaves, off, weights);
  let [sum, all] = [0, 0];
  off.forEach((x, k) => {
    sum += weights[k] * (x - intercept - slope * octaves[k]) ** 2;
    all += weights[k];
  });
  return Math.sqrt(sum / all);
}
