import { type Phase, steadyPhase, turnDown } from '../../dsp/harmonics';
import { hann } from '../../dsp/windows';

/** What a tone does at a moment at which something starts. */
export interface Strike {
  /** How well its partials go on where they would have been, −1..1; 1 where nothing was struck. */
  coherence: number;
  /** How much they rise out of the least that they had around it, dB. */
  riseDb: number;
}

const PARTIALS = 12;
const MIN_WINDOW_SECONDS = 0.02;
const PERIODS = 3;
/** So far before and behind the moment nothing of the other side is to be seen. */
const BEFORE_SECONDS = 0.006;
const BEHIND_SECONDS = 0.012;
/** Where the least and the most of a rise are looked for. */
const LEAST_SECONDS = [-0.045, 0.015] as const;
const MOST_SECONDS = [0.01, 0.08] as const;
const STEP_SECONDS = 0.006;
const AROUND_SECONDS = [-0.02, 0.05] as const;
const AROUND_STEP_SECONDS = 0.01;

/**
 * Compares the partials of a tone before and behind a moment. A note that goes on keeps the phases of its
 * partials, whatever its level does, and whatever is hit beside it; one that is struck again begins with
 * phases of its own (the complex domain of Bello, Duxbury, Davies & Sandler 2004, at known partials).
 */
export function strikeAt(signal: Float64Array, sampleRateHz: number, f0Hz: number, seconds: number): Strike {
  const length = windowOf(sampleRateHz, f0Hz);
  const look = partialsAt(signal, sampleRateHz, f0Hz, length);
  const levels = (range: readonly [number, number]) => {
    const found: number[] = [];
    for (let at = range[0]; at <= range[1]; at += STEP_SECONDS) found.push(levelOf(look(seconds + at)));
    return found;
  };
  const least = Math.min(...levels(LEAST_SECONDS));
  const most = Math.max(...levels(MOST_SECONDS));
  return {
    coherence: coherenceBy(look, length / 2 / sampleRateHz, seconds),
    riseDb: 20 * Math.log10((most + 1e-9) / (least + 1e-9)),
  };
}

/** The least coherence of a tone's partials around a moment: slow starts break what was there late. */
export function leastCoherence(signal: Float64Array, sampleRateHz: number, f0Hz: number, seconds: number): number {
  const length = windowOf(sampleRateHz, f0Hz);
  const look = partialsAt(signal, sampleRateHz, f0Hz, length);
  let least = 1;
  for (let at = AROUND_SECONDS[0]; at <= AROUND_SECONDS[1]; at += AROUND_STEP_SECONDS)
    least = Math.min(least, coherenceBy(look, length / 2 / sampleRateHz, seconds + at));
  return least;
}

const windowOf = (sampleRateHz: number, f0Hz: number) =>
  Math.round(Math.max(MIN_WINDOW_SECONDS, PERIODS / f0Hz) * sampleRateHz);

function coherenceBy(look: (seconds: number) => Float64Array, half: number, seconds: number): number {
  const step = half / 2;
  const before = seconds - BEFORE_SECONDS - half;
  const behind = seconds + BEHIND_SECONDS + half;
  const [earlier, last, next, later] = [before - step, before, behind, behind + step].map(look);
  // The fundamental that was given may be a little off: by as much as phases go on turning on either side.
  const offHz = (turningHz(earlier, last, step) + turningHz(next, later, step)) / 2;
  let coherent = 0;
  let whole = 0;
  for (let n = 0; n < last.length / 2; n++) {
    const expected = 2 * Math.PI * (n + 1) * offHz * (behind - before);
    const [re, im] = turnBetween(last, next, n);
    const size = Math.hypot(re, im) ** 0.75;
    coherent += size * Math.cos(Math.atan2(im, re) - expected);
    whole += size;
  }
  return whole > 0 ? coherent / whole : 0;
}

/** From four periods on, what is halfway between partials is none of theirs. */
const TONAL_PERIODS = 4;

export interface TonalChange {
  /** How much louder the partials are behind a moment than before it, dB, without what a hit adds. */
  riseDb: number;
  /** How much of what is behind it at the partials' places is theirs, 0..1. */
  purity: number;
}

/** What partials do at a moment, less what is halfway between them. */
export function tonalChange(signal: Float64Array, sampleRateHz: number, f0Hz: number, seconds: number): TonalChange {
  const length = Math.round(Math.max(MIN_WINDOW_SECONDS, TONAL_PERIODS / f0Hz) * sampleRateHz);
  const look = partialsAt(signal, sampleRateHz, f0Hz / 2, length);
  const half = length / 2 / sampleRateHz;
  const [before, behind] = [seconds - BEFORE_SECONDS - half, seconds + BEHIND_SECONDS + half].map((at) =>
    tonalLevels(look(at)),
  );
  return {
    riseDb: 20 * Math.log10((behind.tonal + 1e-7) / (before.tonal + 1e-7)),
    purity: behind.whole > 0 ? behind.tonal / behind.whole : 0,
  };
}

/** Sums of the magnitudes of the even multiples: whole, and over the odd ones beside them. */
function tonalLevels(multiples: Float64Array): { tonal: number; whole: number } {
  const power = (n: number) => multiples[2 * n] ** 2 + multiples[2 * n + 1] ** 2;
  let tonal = 0;
  let whole = 0;
  for (let n = 1; n + 1 < multiples.length / 2; n += 2) {
    tonal += Math.sqrt(Math.max(0, power(n) - (power(n - 1) + power(n + 1)) / 2));
    whole += Math.sqrt(power(n));
  }
  return { tonal, whole };
}

/** Reads the partials around a time, as real and imaginary parts at the phase of the signal's start. */
function partialsAt(signal: Float64Array, sampleRateHz: number, f0Hz: number, length: number) {
  const window = hann(length);
  const omega = (2 * Math.PI * f0Hz) / sampleRateHz;
  const phase: Phase = steadyPhase(omega, length);
  const count = Math.max(1, Math.min(PARTIALS, Math.floor((0.45 * sampleRateHz) / f0Hz)));
  return (seconds: number): Float64Array => {
    const sums = new Float64Array(2 * count);
    const start = Math.max(0, Math.min(signal.length - length, Math.round(seconds * sampleRateHz) - (length >> 1)));
    if (start < 0) return sums;
    turnDown(signal, start, window, phase, 0, sums);
    for (let n = 0; n < count; n++) {
      const angle = -omega * (n + 1) * start;
      const [re, im, cos, sin] = [sums[2 * n], sums[2 * n + 1], Math.cos(angle), Math.sin(angle)];
      sums[2 * n] = re * cos - im * sin;
      sums[2 * n + 1] = re * sin + im * cos;
    }
    return sums;
  };
}

/** The product of a partial with the conjugate of what it was. */
const turnBetween = (a: Float64Array, b: Float64Array, n: number): [number, number] => [
  a[2 * n] * b[2 * n] + a[2 * n + 1] * b[2 * n + 1],
  a[2 * n] * b[2 * n + 1] - a[2 * n + 1] * b[2 * n],
];

/** How much faster than it was taken to be the fundamental turns between two looks, Hz. */
function turningHz(a: Float64Array, b: Float64Array, seconds: number): number {
  let turn = 0;
  let weight = 0;
  for (let n = 0; n < a.length / 2; n++) {
    const [re, im] = turnBetween(a, b, n);
    const size = Math.hypot(re, im);
    turn += (size * (n + 1) * Math.atan2(im, re)) / (2 * Math.PI * seconds);
    weight += size * (n + 1) ** 2;
  }
  return weight > 0 ? turn / weight : 0;
}

/** Sum of the partials' magnitudes. */
function levelOf(partials: Float64Array): number {
  let sum = 0;
  for (let n = 0; n < partials.length; n += 2) sum += Math.hypot(partials[n], partials[n + 1]);
  return sum;
}
