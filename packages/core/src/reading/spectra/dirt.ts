import { nelderMead } from '../../dsp/nelderMead';
import type { Reading } from '../schema';
import { correlation, mean, quantile } from '../statistics';
import { stepOfValues } from './valueGrid';

type Dirt = Reading['traits']['dirt'];

const unknown: Dirt = { kind: null, amount: null, bits: null, holdHz: null, confidence: 0 };

/** A tone whose distortion is looked for. */
export interface Distorted {
  /** One channel: the sum of two has other values than either. */
  samples: ArrayLike<number>;
  sampleRateHz: number;
  f0Hz: number | undefined;
  fromSeconds: number;
  toSeconds: number;
  /** Levels of the partials, dB against the strongest. */
  partialsDb: readonly number[];
}

/**
 * What distorts a tone, as far as one note shows it: coarse sample values and held samples are there to be
 * seen; a curve shows when the same waveform comes louder and softer, since then the loud one is a function
 * of the soft one; flat tops show by themselves. Harmonics alone say nothing: a source may have them.
 */
export function measureDirt(tone: Distorted): Dirt {
  const { samples, sampleRateHz, fromSeconds, toSeconds, partialsDb } = tone;
  const first = Math.floor(fromSeconds * sampleRateHz);
  const end = Math.min(toSeconds, fromSeconds + MOST_SECONDS);
  const last = Math.min(samples.length, Math.ceil(end * sampleRateHz));
  const span = new Float64Array(Math.max(0, last - first));
  for (let i = 0; i < span.length; i++) span[i] = samples[first + i];
  if (span.length < MIN_SAMPLES) return unknown;
  const hold = heldSamples(span);
  const bits = coarseBits(span);
  if (hold !== undefined || bits !== undefined) {
    const holdHz = hold === undefined ? null : Number((sampleRateHz / hold).toFixed(1));
    return { kind: 'crush', amount: null, bits: bits ?? null, holdHz, confidence: 0.95 };
  }
  const step = stepOfValues(span);
  if (step !== undefined) return { ...unknown, kind: 'crush', bits: Math.round(1 - Math.log2(step)), confidence: 0.8 };
  // Any curve would give a sine partials.
  const pure = partialsDb.slice(1).every((db) => db < PURE_DB) && partialsDb.length > 2;
  if (pure) return { ...unknown, kind: 'none', amount: 0, confidence: 0.9 };
  const curve = curveOf(tone);
  if (curve) return curve;
  return isClipped(span) ? { ...unknown, kind: 'hard', confidence: 0.7 } : unknown;
}

const MIN_SAMPLES = 1000;
/** The values of samples are the same sort all along. */
const MOST_SECONDS = 4;
const PURE_DB = -55;

/** More bits than this are a file's own. */
const MOST_BITS = 13;
const MOST_VALUES = 2 ** MOST_BITS + 1;
/** Share of a step by which values may be off its multiples. */
const OFF_STEP = 0.02;

/** Bits of samples that only take values of a coarse grid, full scale −1..1; undefined when there is none. */
function coarseBits(samples: Float64Array): number | undefined {
  const values = new Set<number>();
  for (const x of samples) {
    values.add(x);
    if (values.size > MOST_VALUES) return undefined;
  }
  const sorted = Float64Array.from(values).sort();
  if (sorted.length < 3) return undefined;
  let step = Infinity;
  for (let i = 1; i < sorted.length; i++)
    if (sorted[i] - sorted[i - 1] > 1e-7) step = Math.min(step, sorted[i] - sorted[i - 1]);
  for (const value of sorted) {
    const steps = (value - sorted[0]) / step;
    if (Math.abs(steps - Math.round(steps)) > OFF_STEP) return undefined;
  }
  const bits = Math.round(1 - Math.log2(step));
  return bits >= 1 && bits <= MOST_BITS ? bits : undefined;
}

/** Share of the gaps between changes that have to be multiples of one hold. */
const REGULAR = 0.9;
const MIN_HOLD = 1.5;
/** Gaps of any length are seldom near the multiples of a hold that is this long. */
const LONG_HOLD = 4.5;
/** A square takes two values, and holds them. */
const MIN_HELD_VALUES = 8;

/** How many samples each value is held for; undefined when they are not. */
function heldSamples(samples: Float64Array): number | undefined {
  let same = 0;
  for (let i = 1; i < samples.length; i++) if (samples[i] === samples[i - 1]) same++;
  // What changes at most samples is not held.
  if (same < samples.length / 4) return undefined;
  const changes: number[] = [];
  for (let i = 1; i < samples.length; i++) if (samples[i] !== samples[i - 1]) changes.push(i);
  if (changes.length < 8 || new Set(changes.map((at) => samples[at])).size < MIN_HELD_VALUES) return undefined;
  const gaps = changes.slice(1).map((at, i) => at - changes[i]);
  let hold = quantile(gaps, 0.5);
  if (hold < MIN_HOLD) return undefined;
  for (let pass = 0; pass < 6; pass++) {
    let turns = 0;
    for (const gap of gaps) turns += Math.max(1, Math.round(gap / hold));
    hold = (changes[changes.length - 1] - changes[0]) / turns;
  }
  const regular = gaps.filter((gap) => Math.abs(gap - Math.max(1, Math.round(gap / hold)) * hold) <= 1).length;
  // Coarse values repeat as well, but for as long as the slope says: then gaps are of all lengths.
  const even = quantile(gaps, 0.9) - quantile(gaps, 0.1) <= 1;
  return regular >= REGULAR * gaps.length && (even || hold >= LONG_HOLD) ? hold : undefined;
}

const FLAT_SHARE = 0.9985;
const MIN_FLAT = 0.02;
const MAX_FLAT = 0.85;
/** Flat tops of a pulse come up within two samples; those of a curve bend on the way. */
const MIN_SLOPE_SHARE = 0.12;

/** Whether the waveform stands still at its highest and lowest, and bends on its way there. */
function isClipped(samples: Float64Array): boolean {
  const top = samples.reduce((a, x) => Math.max(a, Math.abs(x)), 0);
  let flat = 0;
  let sloping = 0;
  for (let i = 1; i < samples.length - 1; i++) {
    if (Math.abs(samples[i]) >= FLAT_SHARE * top && samples[i - 1] === samples[i] && samples[i + 1] === samples[i])
      flat++;
    else if (Math.abs(samples[i]) < 0.8 * top) sloping++;
  }
  const share = flat / samples.length;
  return share > MIN_FLAT && share < MAX_FLAT && sloping / samples.length > MIN_SLOPE_SHARE;
}

const POINTS = 256;
/** The loudest periods are compared with those that are softer by this. */
const LOUDEST = 4;
const SOFT_FROM_DB = -30;
const SOFT_TO_DB = -10;
const MIN_PERIODS = 3;
const HARMLESS = 0.9985;
const LEAST_FIT = 0.985;

/**
 * The curve between a waveform when it is soft and when it is loud; undefined when its level does not fall
 * far enough.
 */
function curveOf({ samples, sampleRateHz, f0Hz, fromSeconds, toSeconds }: Distorted): Dirt | undefined {
  if (!f0Hz) return undefined;
  const periods: { wave: Float64Array; rms: number }[] = [];
  const length = sampleRateHz / f0Hz;
  for (let k = Math.ceil(fromSeconds * f0Hz); (k + 1) / f0Hz <= toSeconds; k++) {
    const wave = new Float64Array(POINTS);
    let squares = 0;
    for (let p = 0; p < POINTS; p++) {
      wave[p] = readLinear(samples, k * length + (p * length) / POINTS);
      squares += wave[p] * wave[p];
    }
    periods.push({ wave, rms: Math.sqrt(Math.max(0, squares / POINTS - mean(wave) ** 2)) });
  }
  takeOffSlopes(periods);
  const loudest = Math.max(...periods.map(({ rms }) => rms));
  // Behind a curve a small fall of the level is a large one before it: only the very loudest periods are
  // alike.
  const loud = [...periods].sort((a, b) => b.rms - a.rms).slice(0, LOUDEST);
  const soft = periods.filter(
    ({ rms }) => rms >= loudest * 10 ** (SOFT_FROM_DB / 20) && rms <= loudest * 10 ** (SOFT_TO_DB / 20),
  );
  if (loud.length < MIN_PERIODS || soft.length < MIN_PERIODS) return undefined;
  const y = averageOf(loud.map(({ wave }) => wave));
  const x = averageOf(soft.map(({ wave, rms }) => wave.map((v) => v / rms)));
  const linear = correlation(x, y) ** 2;
  if (linear > HARMLESS) return { ...unknown, kind: 'none', amount: 0, confidence: 0.85 };
  const fits = (Object.keys(curves) as Curve[]).map((kind) => ({ kind, ...fitCurve(curves[kind], x, y) }));
  const best = fits.reduce((a, b) => (b.fit > a.fit ? b : a));
  // What is no function of the soft waveform has been filtered or has moved.
  if (best.fit < LEAST_FIT || 1 - best.fit > 0.5 * (1 - linear)) return undefined;
  return {
    ...unknown,
    kind: best.kind,
    amount: Number(best.drive.toFixed(2)),
    confidence: 0.5 + 0.4 * ((best.fit - LEAST_FIT) / (1 - LEAST_FIT)),
  };
}

/** Gain from one period to the next that is no slope but a start or an end. */
const MOST_SLOPE = 3;

/** The level falls within each period, too, which bends a low tone's waveform as a curve would. */
function takeOffSlopes(periods: readonly { wave: Float64Array; rms: number }[]): void {
  const levels = periods.map(({ rms }) => rms);
  periods.forEach(({ wave }, k) => {
    const [before, after] = [levels[Math.max(0, k - 1)], levels[Math.min(levels.length - 1, k + 1)]];
    const slope = Math.sqrt(after / before);
    if (!(slope < MOST_SLOPE && slope > 1 / MOST_SLOPE)) return;
    for (let p = 0; p < POINTS; p++) wave[p] *= slope ** (0.5 - p / POINTS);
  });
}

type Curve = 'soft' | 'hard' | 'fold';

/** Curves whose slope at rest is 1 and that bend around 1. */
const curves: Record<Curve, (x: number) => number> = {
  soft: Math.tanh,
  hard: (x) => Math.max(-1, Math.min(1, x)),
  fold: Math.sin,
};

/** Best share of y that curve(drive · x) explains; the drive is the peak before the curve, in its knees. */
function fitCurve(curve: (x: number) => number, x: Float64Array, y: Float64Array): { fit: number; drive: number } {
  const top = x.reduce((a, v) => Math.max(a, Math.abs(v)), 0);
  const fitOf = (drive: number, lean: number) =>
    correlation(
      x.map((v) => curve((drive * v) / top + lean)),
      y,
    ) ** 2;
  let best = { fit: -1, drive: 1 };
  for (let drive = 0.5; drive < 12; drive *= 1.15) {
    const fit = fitOf(drive, 0);
    if (fit > best.fit) best = { fit, drive };
  }
  const { point, cost } = nelderMead(
    ([logDrive, lean]) => -fitOf(Math.exp(logDrive), lean),
    [Math.log(best.drive), 0],
    [0.1, 0.1],
    80,
  );
  return { fit: -cost, drive: Math.exp(point[0]) };
}

function averageOf(waves: readonly Float64Array[]): Float64Array {
  return waves[0].map((_, p) => mean(waves.map((wave) => wave[p])));
}

function readLinear(signal: ArrayLike<number>, at: number): number {
  const whole = Math.floor(at);
  const next = whole + 1 < signal.length ? signal[whole + 1] : 0;
  return signal[whole] + (at - whole) * (next - signal[whole]);
}
