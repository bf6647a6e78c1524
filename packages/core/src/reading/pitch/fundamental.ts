import { centsBetween } from '../../dsp/pitch';
import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { steadyPhase, turnDown } from '../../dsp/harmonics';
import { hann } from '../../dsp/windows';
import { MAX_F0_HZ, MIN_F0_HZ, type PitchTrack, framesNear } from './pitchTrack';
import { median, quantile } from '../statistics';

export interface Fundamental {
  f0Hz: number;
  /** 0..1: how periodic the frames are, and how many of them agree. */
  confidence: number;
  /** Where the pitch stands still, seconds. */
  steadyFromSeconds: number;
  steadyToSeconds: number;
}

/**
 * The fundamental of a cut: YIN's candidate, settled against its multiples and fractions by harmonic evidence
 * in a long spectrum, then refined by the phases of the lower partials over the steady part. Undefined when
 * nothing is periodic.
 */
export function findFundamental(
  signal: Float64Array,
  sampleRateHz: number,
  track: PitchTrack,
): Fundamental | undefined {
  const loudest = track.rms.reduce((a, b) => Math.max(a, b), 0);
  const clear = [...track.f0Hz.keys()].filter((i) => track.clarity[i] > 0.6 && track.rms[i] > 0.03 * loudest);
  if (clear.length === 0) return undefined;
  const candidate = commonPitch(clear.map((i) => track.f0Hz[i]));
  const steady = longestRun(track, candidate);
  const settled = moves(track, candidate) ? candidate : settleOctave(signal, sampleRateHz, candidate, steady);
  const f0Hz = refineByPhase(signal, sampleRateHz, settled, steady);
  const agreeing = framesNear(track, candidate, 50).length;
  const clarity = median(clear.map((i) => track.clarity[i]));
  return {
    f0Hz,
    confidence: Math.min(1, clarity * Math.min(1, agreeing / clear.length + 0.1)),
    steadyFromSeconds: steady.from,
    steadyToSeconds: steady.to,
  };
}

/** A pitch that strays by more, half of the time, moves. */
const MOVING_CENTS = 12;

/**
 * Whether the pitch moves around the candidate: a long spectrum then shows lines where there are no partials.
 */
function moves(track: PitchTrack, candidate: number): boolean {
  const near = framesNear(track, candidate, 300).map((i) => centsBetween(candidate, track.f0Hz[i]));
  return quantile(near, 0.75) - quantile(near, 0.25) > MOVING_CENTS;
}

interface Span {
  from: number;
  to: number;
}

/** Centre of the 50-cent neighbourhood that holds most values. */
function commonPitch(values: number[]): number {
  let best = values[0];
  let most = 0;
  for (const value of values) {
    const near = values.filter((other) => Math.abs(centsBetween(value, other)) < 50);
    if (near.length > most) {
      most = near.length;
      best = median(near);
    }
  }
  return best;
}

/** Longest run of frames within 30 cents of the pitch, a frame or two of doubt allowed. */
function longestRun(track: PitchTrack, f0Hz: number): Span {
  const near = framesNear(track, f0Hz, 30);
  let best: Span = { from: track.seconds[near[0] ?? 0], to: track.seconds[near[0] ?? 0] };
  for (let start = 0; start < near.length;) {
    let end = start;
    while (end + 1 < near.length && near[end + 1] - near[end] <= 3) end++;
    const span = { from: track.seconds[near[start]], to: track.seconds[near[end]] };
    if (span.to - span.from > best.to - best.from) best = span;
    start = end + 1;
  }
  // Frames are known by their middle; half a period range on each side belongs to them.
  return { from: Math.max(0, best.from - 0.02), to: best.to + 0.02 };
}

/** Partials further than this under the strongest are no evidence. */
const EVIDENCE_DB = 44;
/** Share of the partials in between that a lower fundamental has to have. */
const LEAST_BETWEEN = 0.4;
/** A lower fundamental is believed when its own partials stand this far over the floor between them. */
const PROMINENCE_DB = 18;

/**
 * YIN takes a whole period or, with weak odd partials, half of it; noise can make it take two. Where a
 * spectrum has partials between those of the candidate, the candidate is divided; where only every second or
 * third is there, it is multiplied.
 */
function settleOctave(signal: Float64Array, sampleRateHz: number, candidate: number, { from, to }: Span): number {
  const spectrum = longSpectrum(signal, sampleRateHz, from, to, candidate);
  for (const divisor of [2, 3]) {
    const lower = candidate / divisor;
    if (lower < MIN_F0_HZ) continue;
    const { found, looked } = partialsBetween(spectrum, lower, divisor);
    // Another note that still sounds has a few partials there as well.
    if (found >= 2 && found >= LEAST_BETWEEN * looked) return lower;
  }
  for (const factor of [2, 3]) {
    const higher = candidate * factor;
    if (higher <= MAX_F0_HZ && partialsBetween(spectrum, candidate, factor).found === 0) return higher;
  }
  return candidate;
}

interface Spectrum {
  binHz: number;
  levelsDb: Float64Array;
  strongestDb: number;
}

/**
 * Power spectrum of the steady span, long enough for eight periods of a third of the candidate where there is
 * that much.
 */
function longSpectrum(signal: Float64Array, sampleRateHz: number, from: number, to: number, f0Hz: number): Spectrum {
  const wanted = Math.round(Math.max(0.25, 24 / f0Hz) * sampleRateHz);
  const middle = Math.round(((from + to) / 2) * sampleRateHz);
  const length = Math.min(signal.length, wanted);
  const start = Math.max(0, Math.min(signal.length - length, middle - (length >> 1)));
  const size = nextPowerOfTwo(4 * length);
  const real = new Float64Array(size);
  const imaginary = new Float64Array(size);
  const window = hann(length);
  for (let i = 0; i < length; i++) real[i] = signal[start + i] * window[i];
  fftOfSize(size).forward(real, imaginary);
  const levelsDb = new Float64Array(size / 2);
  let strongestDb = -Infinity;
  for (let k = 0; k < size / 2; k++) {
    levelsDb[k] = 10 * Math.log10(real[k] ** 2 + imaginary[k] ** 2 + 1e-30);
    if (k > 2) strongestDb = Math.max(strongestDb, levelsDb[k]);
  }
  return { binHz: sampleRateHz / size, levelsDb, strongestDb };
}

/**
 * How many partials `f0Hz` has of its own, besides those that it shares with `every × f0Hz`, of how many up
 * to the highest of all.
 */
function partialsBetween(spectrum: Spectrum, f0Hz: number, every: number): { found: number; looked: number } {
  let found = 0;
  let looked = 0;
  let passed = 0;
  const top = Math.min(spectrum.levelsDb.length * spectrum.binHz * 0.95, f0Hz * 30);
  for (let n = 1; n * f0Hz < top; n++) {
    const level = peakNear(spectrum, n * f0Hz, 0.12 * f0Hz);
    const floor = floorNear(spectrum, n * f0Hz, f0Hz);
    const evident = level > spectrum.strongestDb - EVIDENCE_DB && level > floor + PROMINENCE_DB;
    if (n % every !== 0) {
      passed++;
      if (evident) found++;
    }
    if (evident) looked = passed;
  }
  return { found, looked };
}

function peakNear({ levelsDb, binHz }: Spectrum, hz: number, rangeHz: number): number {
  let peak = -Infinity;
  const to = Math.min(levelsDb.length - 1, Math.ceil((hz + rangeHz) / binHz));
  for (let k = Math.max(0, Math.floor((hz - rangeHz) / binHz)); k <= to; k++) peak = Math.max(peak, levelsDb[k]);
  return peak;
}

/** Level between partials: the lower quartile within one spacing on both sides. */
function floorNear({ levelsDb, binHz }: Spectrum, hz: number, spacingHz: number): number {
  const from = Math.max(0, Math.floor((hz - 0.6 * spacingHz) / binHz));
  const to = Math.min(levelsDb.length, Math.ceil((hz + 0.6 * spacingHz) / binHz));
  return quantile(levelsDb.subarray(from, to), 0.25);
}

const REFINING_PARTIALS = 8;
/** A correction of less than this share, a hundredth of a cent, is the last. */
const SETTLED = 5e-6;
const MOST_REFINED_SECONDS = 8;

/**
 * Follows the phases of the lower partials from frame to frame; their slopes, weighted as a least-squares
 * estimate would (power times the square of the partial's number), give the fundamental to a small fraction
 * of a cent. The variance approaches the Cramér-Rao bound of Rife & Boorstyn 1974.
 */
function refineByPhase(signal: Float64Array, sampleRateHz: number, guessHz: number, { from, to }: Span): number {
  let f0Hz = guessHz;
  for (let pass = 0; pass < 3; pass++) {
    const correction = phaseSlope(signal, sampleRateHz, f0Hz, from, to);
    if (!Number.isFinite(correction) || Math.abs(correction) > 0.06 * f0Hz) break;
    f0Hz += correction;
    if (Math.abs(correction) < SETTLED * f0Hz) break;
  }
  return f0Hz;
}

/** How far the true fundamental lies over `f0Hz`, in Hz. */
function phaseSlope(signal: Float64Array, sampleRateHz: number, f0Hz: number, from: number, to: number): number {
  const length = Math.round((4 * sampleRateHz) / f0Hz);
  const first = Math.max(0, Math.round(from * sampleRateHz));
  const end = Math.min(to, from + MOST_REFINED_SECONDS);
  const last = Math.min(signal.length, Math.round(end * sampleRateHz)) - length;
  const hop = Math.max(1, Math.round(length / 4));
  const frames = Math.floor((last - first) / hop) + 1;
  if (frames < 3) return NaN;
  const window = hann(length);
  const partials = Math.min(REFINING_PARTIALS, Math.ceil((0.45 * sampleRateHz) / f0Hz) - 1);
  const phase = steadyPhase((2 * Math.PI * f0Hz) / sampleRateHz, length);
  const sums = new Float64Array(2 * Math.max(1, partials));
  const times = Float64Array.from({ length: frames }, (_, frame) => (frame * hop) / sampleRateHz);
  const powers = Array.from({ length: partials }, () => new Float64Array(frames));
  const phases = Array.from({ length: partials }, () => new Float64Array(frames));
  for (let frame = 0; frame < frames; frame++) {
    turnDown(signal, first + frame * hop, window, phase, 0, sums);
    for (let n = 0; n < partials; n++) {
      const re = sums[2 * n];
      const im = sums[2 * n + 1];
      powers[n][frame] = re * re + im * im;
      // How far the partial itself goes from frame to frame is known; what is left is its error.
      const expected = 2 * Math.PI * (n + 1) * f0Hz * times[frame];
      const angle = Math.atan2(im, re) - expected;
      phases[n][frame] = frame === 0 ? angle : phases[n][frame - 1] + wrap(angle - phases[n][frame - 1]);
    }
  }
  let numerator = 0;
  let denominator = 0;
  for (let n = 0; n < partials; n++) {
    const { slope, weight } = weightedSlope(times, phases[n], powers[n]);
    const number = n + 1;
    numerator += (weight * number * slope) / (2 * Math.PI);
    denominator += weight * number * number;
  }
  return numerator / denominator;
}

/**
 * Slope of phases over times, weighted by power; a partial whose phase does not run straight weighs little.
 */
function weightedSlope(
  times: Float64Array,
  phases: Float64Array,
  powers: Float64Array,
): { slope: number; weight: number } {
  let w = 0;
  let wt = 0;
  let wp = 0;
  for (let i = 0; i < times.length; i++) {
    w += powers[i];
    wt += powers[i] * times[i];
    wp += powers[i] * phases[i];
  }
  const meanTime = wt / w;
  const meanPhase = wp / w;
  let spread = 0;
  let product = 0;
  for (let i = 0; i < times.length; i++) {
    spread += powers[i] * (times[i] - meanTime) ** 2;
    product += powers[i] * (times[i] - meanTime) * (phases[i] - meanPhase);
  }
  const slope = product / spread;
  let residue = 0;
  for (let i = 0; i < times.length; i++) {
    residue += powers[i] * (phases[i] - meanPhase - slope * (times[i] - meanTime)) ** 2;
  }
  return { slope, weight: w / (1e-4 + residue / w) };
}

const wrap = (phase: number) => phase - 2 * Math.PI * Math.round(phase / (2 * Math.PI));
