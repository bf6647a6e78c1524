import { cheapestPath } from '../../dsp/cheapestPath';
import { decibelsFromGain } from '../../dsp/decibels';
import { type PartialFrames, frameAmplitudes } from '../partials/partialFrames';
import { quantile, spread } from '../statistics';

export type Slope = 12 | 24;

/** The filters that would explain how the partials of a note are and how they change. */
export interface FilterTrack {
  slopeDbPerOctave: Slope;
  /** What the low-pass has at its cutoff over what it would have without resonance; 0 without. */
  resonanceDb: number;
  seconds: Float64Array;
  /** Cutoff of the low-pass at each frame; NaN where the frame is too quiet to tell. */
  cutoffHz: Float64Array;
  /** A high-pass that stands still and would explain weak low partials. */
  highpass: { cutoffHz: number; slopeDbPerOctave: Slope } | undefined;
  /** RMS of what the filters leave unexplained, dB. */
  errorDb: number;
  /** Partials that it was told from, where there are most. */
  told: number;
}

/** A low-pass from here on does nothing that is heard. */
export const OPEN_HZ = 15000;

const STEPS_PER_OCTAVE = 12;
/** Every so many of them are looked at first. */
const COARSE_STEPS = 4;
/** What a partial says grows from nothing at the lower of these, against the strongest of its frame. */
const AUDIBLE_DB = -60;
const CLEAR_DB = -48;
/** Under this, against the strongest of all frames, what is measured of a partial may be noise beside it. */
const FLOOR_DB = -80;
const MAX_COMPARED = 80;
const SLOPES = [12, 24] as const;
const RESONANCES_DB = [0, 4, 8, 11, 14, 17, 20, 25];
/** A resonance is claimed when it leaves so much less than none does. */
const RESONANT_SHARE = 0.8;
const LEAST_RESONANCE_DB = 1.5;
/** So many frames tell slope, resonance and high-pass; all of them are needed for the cutoff alone. */
const FEW_FRAMES = 24;

/**
 * Explains every frame as the same source under a low-pass whose cutoff moves. The source is taken to fall
 * like a saw's or a square's (6 dB per octave); missing even partials carry no weight. Of slopes and
 * resonances those that leave least win; where the cutoff moves far enough, what stays the same under it all
 * along is then taken for the source's own.
 */
export function trackFilter(frames: PartialFrames, f0Hz: number, sampleRateHz: number): FilterTrack {
  const sound = levelsOf(frames, f0Hz, sampleRateHz);
  const few = spread(sound.loud.length, FEW_FRAMES);
  let shape = bestShape(sound, few);
  const highpass = findHighpass(sound, few, shape);
  if (highpass) {
    lift(sound, (hz) => highpassAttenuationDb(highpass.slopeDbPerOctave, hz / highpass.cutoffHz));
    shape = bestShape(sound, few);
  }
  const { slope, resonanceDb, source } = withoutSource(sound, few, shape);
  const { cutoffs, error } = follow(source, slope, resonanceDb);
  const cutoffHz = new Float64Array(frames.seconds.length).fill(NaN);
  sound.loud.forEach((frame, i) => (cutoffHz[frame] = cutoffs[i]));
  return {
    slopeDbPerOctave: slope,
    resonanceDb,
    seconds: frames.seconds,
    cutoffHz,
    highpass,
    errorDb: Math.sqrt(error),
    told: quantile(Float64Array.from(sound.weights, countOf), MOST_SHARE),
  };
}

/** Single frames, that of the stroke first of all, have more than the tone. */
const MOST_SHARE = 0.95;
const countOf = (weights: Float64Array) => weights.reduce((count, weight) => count + (weight > 0 ? 1 : 0), 0);

/** Q of the sections of a Butterworth filter of each slope; a resonance multiplies that of the last. */
const SECTIONS: Record<Slope, readonly number[]> = { 12: [Math.SQRT1_2], 24: [0.5411961001461971, 1.3065629648763766] };

/** Attenuation of a low-pass at `ratio` times its cutoff, dB; under 0 where its resonance lifts. */
export function lowpassAttenuationDb(slope: Slope, ratio: number, resonanceDb = 0): number {
  // All sections of a filter without resonance, multiplied out.
  if (resonanceDb === 0) return 10 * Math.log10(1 + ratio ** (slope / 3));
  const square = ratio * ratio;
  const gain = 10 ** (resonanceDb / 10);
  const powers = SECTIONS[slope].reduce((product, q, i, { length }) => {
    const quality = q * q * (i === length - 1 ? gain : 1);
    return product * ((1 - square) ** 2 + square / quality);
  }, 1);
  return 10 * Math.log10(powers);
}

/** Q of each section of such a low-pass. */
export const qualitiesOf = (slope: Slope, resonanceDb: number): number[] =>
  SECTIONS[slope].map((q, i, { length }) => (i === length - 1 ? q * 10 ** (resonanceDb / 20) : q));

/** Attenuation of a high-pass without resonance at `ratio` times its cutoff, dB ≥ 0. */
const highpassAttenuationDb = (slope: Slope, ratio: number) => lowpassAttenuationDb(slope, 1 / ratio);

/** The levels of a tone's partials over those of a saw, and how much they say. */
interface SourceLevels {
  f0Hz: number;
  /** Partials a frame. */
  count: number;
  /** Frames that are loud enough; each has a row below. */
  loud: number[];
  /** Of each partial, dB. */
  levels: Float64Array[];
  /** 0 from the last audible partial on. */
  weights: Float64Array[];
  /** Up to the last audible one. */
  audible: number[];
  candidatesHz: number[];
}

function levelsOf(frames: PartialFrames, f0Hz: number, sampleRateHz: number): SourceLevels {
  const count = Math.min(frames.count, MAX_COMPARED);
  const topHz = Math.min(20000, 0.47 * sampleRateHz);
  const candidatesHz: number[] = [];
  while (f0Hz * candidateRatio(candidatesHz.length) <= topHz)
    candidatesHz.push(f0Hz * candidateRatio(candidatesHz.length));
  const loudest = strongest(frames.amplitudes);
  const loud: number[] = [];
  const levels: Float64Array[] = [];
  const weights: Float64Array[] = [];
  const audible: number[] = [];
  for (let t = 0; t < frames.seconds.length; t++) {
    const amplitudes = frameAmplitudes(frames, t);
    const top = strongest(amplitudes);
    if (top < 0.01 * loudest) continue;
    loud.push(t);
    // Saw-like source taken off: what is left should look like the filter.
    const row = Float64Array.from({ length: count }, (_, i) => decibelsFromGain(amplitudes[i] / top));
    const quietest = Math.max(AUDIBLE_DB, FLOOR_DB - decibelsFromGain(top / loudest));
    audible.push(row.findLastIndex((db) => db > quietest) + 1);
    weights.push(row.map((db, i) => clearness(db - quietest) / (i + 1) ** 0.5));
    levels.push(row.map((db, i) => db + 20 * Math.log10(i + 1)));
  }
  const gaps = missingPartials(levels);
  for (const row of weights) gaps.forEach((i) => (row[i] = 0));
  return { f0Hz, count, loud, levels, weights, audible, candidatesHz };
}

/** 0 where a partial is not heard, 1 where it is clear; no step between, at which what is told would jump. */
const clearness = (overDb: number) => Math.max(0, Math.min(1, overDb / (CLEAR_DB - AUDIBLE_DB)));

/**
 * A partial that mostly stays so far under what is beside it is none of the source's: what is there leaks.
 */
const MISSING_DB = 14;

/** Places, from 0, of partials that a hollow source lacks. */
function missingPartials(levels: readonly Float64Array[]): number[] {
  if (levels.length === 0) return [];
  return [...levels[0].keys()].slice(1, -1).filter((i) => {
    const under = levels.map((row) => row[i] - (row[i - 1] + row[i + 1]) / 2);
    return quantile(under, 0.5) < -MISSING_DB;
  });
}

interface Shape {
  slope: Slope;
  resonanceDb: number;
  /** Cutoff of each row that was looked at. */
  cutoffs: Float64Array;
  /** Mean square of what is left, dB². */
  error: number;
}

/** Slope and resonance that leave least; no resonance unless it says clearly more. */
function bestShape(sound: SourceLevels, rows: readonly number[]): Shape {
  const shapes = SLOPES.flatMap((slope) =>
    RESONANCES_DB.map((resonanceDb): Shape => ({ slope, resonanceDb, ...fit(sound, rows, slope, resonanceDb) })),
  );
  const least = (of: readonly Shape[]) => of.reduce((a, b) => (b.error < a.error ? b : a));
  const plain = least(shapes.filter(({ resonanceDb }) => resonanceDb === 0));
  const any = least(shapes);
  if (any.error > RESONANT_SHARE * plain.error) return plain;
  // Between the resonances that were tried the error is about a parabola.
  const [below, above] = [-1, 1].map((side) =>
    shapes.find(
      ({ slope, resonanceDb }) =>
        slope === any.slope && resonanceDb === RESONANCES_DB[RESONANCES_DB.indexOf(any.resonanceDb) + side],
    ),
  );
  if (!below || !above) return any;
  const shift = leastOffset(below.error, any.error, above.error);
  const resonanceDb =
    any.resonanceDb + shift * (shift > 0 ? above.resonanceDb - any.resonanceDb : any.resonanceDb - below.resonanceDb);
  if (resonanceDb < LEAST_RESONANCE_DB) return plain;
  return { slope: any.slope, resonanceDb, ...fit(sound, rows, any.slope, resonanceDb) };
}

function fit(sound: SourceLevels, rows: readonly number[], slope: Slope, resonanceDb: number) {
  const { candidatesHz } = sound;
  const attenuation = attenuationTable(sound, slope, resonanceDb);
  const errors = new Float64Array(candidatesHz.length);
  let sum = 0;
  const cutoffs = Float64Array.from(rows, (row) => {
    const errorAt = (c: number) =>
      (errors[c] = residual(sound.levels[row], sound.weights[row], attenuation[c], sound.audible[row]));
    let best = 0;
    for (let c = 0; c < errors.length; c += COARSE_STEPS) if (errorAt(c) < errors[best]) best = c;
    const middle = best;
    const last = Math.min(errors.length - 1, middle + COARSE_STEPS);
    for (let c = Math.max(0, middle - COARSE_STEPS); c <= last; c++) if (errorAt(c) < errors[best]) best = c;
    sum += errors[best];
    const [before, after] = [best - 1, best + 1].map((c) => (c < 0 || c > last ? Infinity : errorAt(c)));
    return candidatesHz[best] * 2 ** (leastOffset(before, errors[best], after) / STEPS_PER_OCTAVE);
  });
  return { cutoffs, error: rows.length > 0 ? sum / rows.length : Infinity };
}

/** What a cutoff that jumps by an octave has to explain better, dB². */
const JUMP_PRICE = 10;

/**
 * The cutoff of every frame, as the path through all that leaves least: where a frame alone would say one
 * thing as well as another, those beside it decide. An octave costs the same in one step as in many, so a
 * fall as such is not held up.
 */
function follow(sound: SourceLevels, slope: Slope, resonanceDb: number) {
  const { candidatesHz, levels, weights, audible } = sound;
  const attenuation = attenuationTable(sound, slope, resonanceDb);
  const errors = levels.map((row, i) =>
    Float64Array.from(candidatesHz, (_, c) => residual(row, weights[i], attenuation[c], audible[i])),
  );
  const path = cheapestPath(errors, JUMP_PRICE / STEPS_PER_OCTAVE);
  const cutoffs = Float64Array.from(path, (best, i) => {
    const [before, at, after] = [best - 1, best, best + 1].map((c) => errors[i][c] ?? Infinity);
    const isLeast = at <= before && at <= after;
    return candidatesHz[best] * 2 ** ((isLeast ? leastOffset(before, at, after) : 0) / STEPS_PER_OCTAVE);
  });
  const sum = path.reduce((total, best, i) => total + errors[i][best], 0);
  return { cutoffs, error: path.length > 0 ? sum / path.length : Infinity };
}

const tables = new Map<string, Float64Array[]>();

/**
 * What every candidate does to every partial, by slope and resonance. Candidates stand at multiples of the
 * fundamental, so the same serve all tones; only resonances that are tried for each are kept.
 */
function attenuationTable({ candidatesHz }: SourceLevels, slope: Slope, resonanceDb: number): Float64Array[] {
  const name = `${slope}/${resonanceDb}`;
  const kept = RESONANCES_DB.includes(resonanceDb);
  const table = tables.get(name) ?? [];
  for (let c = table.length; c < candidatesHz.length; c++) {
    const cutoff = candidateRatio(c);
    table.push(
      Float64Array.from({ length: MAX_COMPARED }, (_, i) => lowpassAttenuationDb(slope, (i + 1) / cutoff, resonanceDb)),
    );
  }
  if (kept) tables.set(name, table);
  return table;
}

/** Cutoff of a candidate as a multiple of the fundamental. */
const candidateRatio = (candidate: number) => 0.5 * 2 ** (candidate / STEPS_PER_OCTAVE);

/** Weighted mean square of levels + attenuation around their own mean (the frame's gain is free). */
function residual(levels: Float64Array, weights: Float64Array, attenuation: Float64Array, count: number): number {
  let w = 0;
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < count; i++) {
    const x = levels[i] + attenuation[i];
    w += weights[i];
    sum += weights[i] * x;
    squares += weights[i] * x * x;
  }
  return w > 0 ? Math.max(0, squares / w - (sum / w) ** 2) : Infinity;
}

/** Adds what a frequency was turned down by to every row. */
function lift({ levels, f0Hz, count }: SourceLevels, attenuationDb: (hz: number) => number): void {
  const own = Float64Array.from({ length: count }, (_, i) => attenuationDb((i + 1) * f0Hz));
  for (const row of levels) for (let i = 0; i < count; i++) row[i] += own[i];
}

const SAME_CUTOFF_OCTAVES = 0.15;

/**
 * What a low-pass leaves of each partial over the rows, against the rows' own gains: mean, and how much it is
 * worth.
 */
function leftOver({ levels, weights, f0Hz, count }: SourceLevels, rows: readonly number[], shape: Shape) {
  const sums = new Float64Array(count);
  const worth = new Float64Array(count);
  const octaves = Array.from(shape.cutoffs, Math.log2);
  rows.forEach((row, place) => {
    // Where a sweep has come to rest, the resonance stands still like the source: all cutoffs count alike.
    const rare = 1 / octaves.filter((octave) => Math.abs(octave - octaves[place]) < SAME_CUTOFF_OCTAVES).length;
    const over = Float64Array.from(
      levels[row],
      (level, i) =>
        level + lowpassAttenuationDb(shape.slope, ((i + 1) * f0Hz) / shape.cutoffs[place], shape.resonanceDb),
    );
    let sum = 0;
    let w = 0;
    over.forEach((db, i) => {
      sum += weights[row][i] * db;
      w += weights[row][i];
    });
    over.forEach((db, i) => {
      sums[i] += rare * weights[row][i] * (db - sum / w);
      worth[i] += rare * weights[row][i];
    });
  });
  return { mean: sums.map((sum, i) => (worth[i] > 0 ? sum / worth[i] : 0)), worth };
}

/**
 * A high-pass has to take this much off the first partial, and to leave this share of what there was without
 * it.
 */
const LEAST_HIGHPASS_DB = 5;
const HIGHPASS_SHARE = 0.4;
/**
 * Its cutoff lies within these multiples of the fundamental: under them it takes nothing off, over them there
 * is no flat part.
 */
const HIGHPASS_RATIOS = { from: 0.9, to: 12 };
/** Two low partials at least have to be weak: one alone is a source's own. */
const SECOND_DB = 1.5;
/** A low-pass that leaves no more than this has explained it all. */
const EXPLAINED_DB = 1.7;
/** Of an octave, that high-passes are tried in. */
const HIGHPASS_STEPS = 8;
const MIN_PARTIALS = 5;

function findHighpass(sound: SourceLevels, rows: readonly number[], plain: Shape): FilterTrack['highpass'] {
  if (sound.count < MIN_PARTIALS || rows.length === 0) return undefined;
  if (plain.error < EXPLAINED_DB ** 2 || !hasWeakLows(sound, rows)) return undefined;
  let found: FilterTrack['highpass'];
  let least = HIGHPASS_SHARE * plain.error;
  for (const slopeDbPerOctave of SLOPES) {
    for (let ratio = HIGHPASS_RATIOS.from; ratio <= HIGHPASS_RATIOS.to; ratio *= 2 ** (1 / HIGHPASS_STEPS)) {
      if (highpassAttenuationDb(slopeDbPerOctave, 1 / ratio) < LEAST_HIGHPASS_DB) continue;
      if (highpassAttenuationDb(slopeDbPerOctave, 2 / ratio) < SECOND_DB) continue;
      const off = (hz: number) => highpassAttenuationDb(slopeDbPerOctave, hz / (ratio * sound.f0Hz));
      lift(sound, off);
      // The low-pass behind it is looked for again: the first one made up for the missing lows as well as it
      // could.
      const { error } = SLOPES.map((slope) => fit(sound, rows, slope, 0)).reduce((a, b) => (b.error < a.error ? b : a));
      lift(sound, (hz) => -off(hz));
      if (error >= least) continue;
      least = error;
      found = { cutoffHz: ratio * sound.f0Hz, slopeDbPerOctave };
    }
  }
  return found;
}

/**
 * Whether the first partial stays under others as they would be of a saw: behind a low-pass alone it is the
 * highest.
 */
function hasWeakLows({ levels, weights }: SourceLevels, rows: readonly number[]): boolean {
  const under = rows.map((row) => {
    const highest = levels[row].reduce((a, db, i) => (weights[row][i] > 0 ? Math.max(a, db) : a), -Infinity);
    return highest - levels[row][0];
  });
  return quantile(under, 0.5) > LEAST_HIGHPASS_DB;
}

/** A cutoff that covers less does not tell filter and source apart. */
const LEAST_MOVED_OCTAVES = 0.7;
const MOST_SOURCE_DB = 15;

/** So often source and filter are told from each other in turn. */
const TURNS = 3;

/**
 * What stays the same of every partial while the cutoff moves is the source's own: the rest is explained
 * anew, and so on. Started from the plain low-pass and from the resonant one; the better end wins. With too
 * little movement to tell, what was known is kept.
 */
function withoutSource(sound: SourceLevels, rows: readonly number[], shape: Shape): Shape & { source: SourceLevels } {
  const octaves = Array.from(shape.cutoffs, Math.log2);
  if (rows.length < 6 || quantile(octaves, 0.9) - quantile(octaves, 0.1) < LEAST_MOVED_OCTAVES)
    return { ...shape, source: sound };
  const plain = { ...shape, resonanceDb: 0, ...fit(sound, rows, shape.slope, 0) };
  const ends = (shape.resonanceDb === 0 ? [plain] : [plain, shape]).map((start) => {
    let found = start;
    let source = sound;
    for (let turn = 0; turn < TURNS; turn++) {
      source = takeOffSource(sound, rows, found);
      found = bestShape(source, rows);
    }
    return { ...found, source };
  });
  return ends.reduce((a, b) => (b.error < RESONANT_SHARE * a.error ? b : a));
}

function takeOffSource(sound: SourceLevels, rows: readonly number[], shape: Shape): SourceLevels {
  const { mean, worth } = leftOver(sound, rows, shape);
  const own = withoutSlope(mean, worth).map((db) => Math.max(-MOST_SOURCE_DB, Math.min(MOST_SOURCE_DB, db)));
  return { ...sound, levels: sound.levels.map((row) => row.map((db, i) => db - own[i])) };
}

/**
 * Levels over the logarithm of the partials' numbers without their straight line, which a low-pass cannot be
 * told from.
 */
function withoutSlope(levels: Float64Array, weights: Float64Array): Float64Array {
  const octave = (i: number) => Math.log2(i + 1);
  let w = 0;
  let x = 0;
  let y = 0;
  levels.forEach((db, i) => {
    w += weights[i];
    x += weights[i] * octave(i);
    y += weights[i] * db;
  });
  let product = 0;
  let spread = 0;
  levels.forEach((db, i) => {
    product += weights[i] * (octave(i) - x / w) * (db - y / w);
    spread += weights[i] * (octave(i) - x / w) ** 2;
  });
  const slope = spread > 0 ? product / spread : 0;
  return levels.map((db, i) => db - y / w - slope * (octave(i) - x / w));
}

/** Where the least of three neighbouring values lies, in steps from the middle one; 0 beside an end. */
function leastOffset(before: number, at: number, after: number): number {
  const curvature = before - 2 * at + after;
  return curvature > 0 && Number.isFinite(curvature) ? (before - after) / (2 * curvature) : 0;
}

export function strongest(values: Float64Array): number {
  let top = 0;
  for (let i = 0; i < values.length; i++) if (values[i] > top) top = values[i];
  return top;
}
