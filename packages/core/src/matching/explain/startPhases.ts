import { shapeAmplitude, shapeCycles } from '../../reading/partials/spectralShape';
import { fitLine } from '../../reading/statistics';
import type { Evidence, Part } from './hypothesis';

/** How a source stands to the first one: where in its period it begins, and how loud it is. */
export interface Standing {
  startPhaseCycles: number;
  /** Against what the partials' powers alone said, dB. */
  louderDb: number;
}

/**
 * How each of several sources begins: where in its period, and how much louder than its powers said. Sources
 * of free phases have none.
 */
export function beginningsOf(parts: readonly Part[], evidence: Evidence): Standing[] {
  const standings = standingsOf(parts, evidence);
  const first = startOf(parts[0], evidence) ?? 0;
  return parts.map((part, i) => {
    const standing = standings[i];
    // Standings are told against a first source that begins at its own zero.
    const along = first * 2 ** ((part.semitones - parts[0].semitones) / 12);
    const cycles = standing ? standing.startPhaseCycles + along : (startOf(part, evidence) ?? 0);
    return { startPhaseCycles: (Math.round(100 * cycles) % 100) / 100, louderDb: standing?.louderDb ?? 0 };
  });
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
  if (!note.partials || pitch.f0Hz === null || parts.length < 2) return nothing;
  const root = pitch.f0Hz / note.partials.f0Hz;
  const multiples = parts.map(({ semitones }) => Math.round(root * 2 ** (semitones / 12)));
  // A source under the common period has no partials among those that were measured.
  if (multiples.some((multiple) => multiple < 1)) return nothing;
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

/** Of higher notes nobody hears where in its period the first one begins. */
const HIGHEST_HZ = 250;

/** Partials of a source in the first frame, and where they stood at the onset, in cycles of a cosine. */
interface Onset {
  amplitudes: number[];
  cycles: number[];
}

/**
 * How the partials of a low source begin: those of the first frame, turned back to the onset. Undefined where
 * the note is high or its pitch moves at the start.
 */
export function onsetOf(semitones: number, most: number, { note }: Evidence): Onset | undefined {
  const { partials, fitted } = note;
  const { pitch } = note.reading.traits;
  if (!partials || pitch.f0Hz === null || pitch.sweep !== null) return undefined;
  const root = pitch.f0Hz / partials.f0Hz;
  const multiple = Math.round(root * 2 ** (semitones / 12));
  const hz = multiple * partials.f0Hz;
  const first = partials.seconds.findIndex((t) => t >= fitted.onsetSeconds + partials.periods / 2 / partials.f0Hz);
  if (multiple < 1 || hz > HIGHEST_HZ || first < 0) return undefined;
  const since = partials.seconds[first] - fitted.onsetSeconds;
  const numbers = Array.from({ length: Math.min(most, Math.floor(partials.count / multiple)) }, (_, i) => i + 1);
  const at = (n: number) => first * partials.count + n * multiple - 1;
  return {
    amplitudes: numbers.map((n) => partials.amplitudes[at(n)]),
    cycles: numbers.map((n) => partials.phases[at(n)] / (2 * Math.PI) - n * hz * since),
  };
}

/** Partials whose phases are looked at; filters turn those of higher ones. */
const PHASED = 10;
/** The phases of the partials agree so well with the shape's, or nothing is told. */
const AGREEMENT = 0.8;
const FINE_PHASES = 200;
/** Where a period begins anyway. */
const AT_ZERO = 0.03;

/**
 * Where in its period a low source begins, in cycles: it decides when the first edges come, which is heard as
 * more or less of an attack. The place at which the partials of the onset agree best with those of the shape,
 * either way up (matched filter; our own). Undefined where they do not agree.
 */
export function startOf(part: Part, evidence: Evidence): number | undefined {
  const onset = onsetOf(part.semitones, PHASED, evidence);
  if (!onset) return undefined;
  const lines = onset.amplitudes.map((amplitude, i) => ({
    n: i + 1,
    a: has(part, i + 1) ? amplitude : 0,
    cycles: onset.cycles[i] - shapeCycles(part.shape, part.pulseWidth, i + 1),
  }));
  const all = lines.reduce((sum, { a }) => sum + a, 0);
  let [best, strongest] = [0, 0];
  for (let place = 0; place < FINE_PHASES; place++) {
    let [re, im] = [0, 0];
    for (const { n, a, cycles } of lines) {
      const turn = 2 * Math.PI * (cycles - (n * place) / FINE_PHASES);
      re += a * Math.cos(turn);
      im += a * Math.sin(turn);
    }
    // The right way up or upside down; anything between is another shape.
    if (Math.abs(re) > strongest) [strongest, best] = [Math.abs(re), place / FINE_PHASES];
  }
  if (!(strongest > AGREEMENT * all)) return undefined;
  return Math.min(best, 1 - best) < AT_ZERO ? undefined : best;
}

/** Whether a partial of a source lies on one of those before it. */
function meetsAny(i: number, parts: readonly Part[], multiples: readonly number[]): boolean {
  const lies = (k: number, partial: number) => partial % multiples[k] === 0 && has(parts[k], partial / multiples[k]);
  for (let partial = 1; partial <= MOST_PARTIALS; partial++)
    if (lies(i, partial) && parts.slice(0, i).some((_, k) => lies(k, partial))) return true;
  return false;
}

/** Partials that a pulse of some width has not come out as rounding errors. */
const LEAST_AMPLITUDE = 1e-3;
const has = (part: Part, n: number) => amplitudeOf(part, n) > LEAST_AMPLITUDE;

const amplitudeOf = ({ shape, pulseWidth }: Part, n: number) => shapeAmplitude(shape, pulseWidth, n);

/** Root of the power that a shape has, by which parts' levels are told. */
function strengthOf(part: Part): number {
  let sum = 0;
  for (let n = 1; n <= MOST_PARTIALS; n++) sum += amplitudeOf(part, n) ** 2;
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
  parts.forEach((part, i) => {
    const { shape, pulseWidth, levelDb } = part;
    const { startPhaseCycles, louderDb } = standings[i];
    const gain = 10 ** ((levelDb + louderDb) / 20) / strengthOf(part);
    for (let n = 1; n * multiples[i] <= count; n++) {
      const a = gain * amplitudeOf(part, n);
      const turn = 2 * Math.PI * (shapeCycles(shape, pulseWidth, n) + n * startPhaseCycles);
      const at = n * multiples[i] - 1;
      re[at] += a * Math.cos(turn);
      im[at] += a * Math.sin(turn);
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
