/** Sounds by formula, for tests: nothing here uses the engine. */

export interface HarmonicTone {
  f0Hz: number;
  sampleRateHz?: number;
  seconds?: number;
  /** Amplitude of partial n, from 1. */
  amplitude: (n: number) => number;
  /** Phase of partial n in radians. */
  phase?: (n: number) => number;
  /** Factor on everything over time in seconds. */
  envelope?: (seconds: number) => number;
  /** White noise at this level under the tone's RMS. */
  noiseDb?: number;
}

export const saw = (n: number) => 1 / n;
export const square = (n: number) => (n % 2 ? 1 / n : 0);
export const sine = (n: number) => (n === 1 ? 1 : 0);
export const weakFundamental = (n: number) => (n === 1 ? 0.01 : 1 / n);

/** A sum of partials up to 0.45 of the sampling rate, peak about 0.5. */
export function harmonicTone({
  f0Hz,
  sampleRateHz = 44100,
  seconds = 1,
  amplitude,
  phase = () => 0,
  envelope = () => 1,
  noiseDb,
}: HarmonicTone): Float32Array {
  const length = Math.round(seconds * sampleRateHz);
  const sum = new Float64Array(length);
  const most = Math.ceil((0.45 * sampleRateHz) / f0Hz) - 1;
  const numbers = Array.from({ length: Math.max(0, most) }, (_, i) => i + 1).filter((n) => amplitude(n) !== 0);
  const sines = numbers.map((n) => createSine(amplitude(n), (2 * Math.PI * n * f0Hz) / sampleRateHz, phase(n)));
  // Two at once, which do not wait for one another.
  for (let k = 0; k < sines.length; k += 2) addSines(sum, sines[k], sines[k + 1] ?? SILENT_SINE);
  const rms = Math.sqrt(sum.reduce((a, x) => a + x * x, 0) / length);
  const noise = noiseDb === undefined ? 0 : rms * 10 ** (noiseDb / 20) * Math.sqrt(3);
  const random = createRandom(7);
  const peak = sum.reduce((a, x) => Math.max(a, Math.abs(x)), 0);
  return Float32Array.from(sum, (x, i) => (0.5 / peak) * (x * envelope(i / sampleRateHz) + noise * (2 * random() - 1)));
}

/** A sine by its recurrence, x[i+1] = 2·cos ω·x[i] − x[i−1]: many times faster than calling it. */
interface Sine {
  twice: number;
  before: number;
  now: number;
}

const SILENT_SINE: Sine = { twice: 0, before: 0, now: 0 };

const createSine = (amplitude: number, omega: number, phase: number): Sine => ({
  twice: 2 * Math.cos(omega),
  before: amplitude * Math.sin(phase - omega),
  now: amplitude * Math.sin(phase),
});

function addSines(sum: Float64Array, one: Sine, other: Sine): void {
  let { before: a1, now: a } = one;
  let { before: b1, now: b } = other;
  for (let i = 0; i < sum.length; i++) {
    sum[i] += a + b;
    const nextA = one.twice * a - a1;
    const nextB = other.twice * b - b1;
    a1 = a;
    a = nextA;
    b1 = b;
    b = nextB;
  }
}

/** A repeatable series of numbers 0..1 (mulberry32). */
export function createRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * Amplitude of a sinusoid at an exact frequency by projection under a Hann window; for lines that are well
 * apart.
 */
export function amplitudeAt(signal: ArrayLike<number>, sampleRateHz: number, hz: number): number {
  let re = 0;
  let im = 0;
  let weight = 0;
  for (let i = 0; i < signal.length; i++) {
    const w = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / signal.length);
    const angle = (2 * Math.PI * hz * i) / sampleRateHz;
    re += w * signal[i] * Math.cos(angle);
    im += w * signal[i] * Math.sin(angle);
    weight += w;
  }
  return (2 * Math.hypot(re, im)) / weight;
}

export const decibels = (ratio: number) => 20 * Math.log10(ratio);

/** The largest step between neighbouring samples. */
export function largestStep(signal: ArrayLike<number>): number {
  let step = 0;
  for (let i = 1; i < signal.length; i++) step = Math.max(step, Math.abs(signal[i] - signal[i - 1]));
  return step;
}

/** Frequency of a nearly plain tone around a time, from its rising zero crossings. */
export function hzAt(signal: ArrayLike<number>, sampleRateHz: number, seconds: number, windowSeconds = 0.02): number {
  const from = Math.max(1, Math.round((seconds - windowSeconds / 2) * sampleRateHz));
  const crossings: number[] = [];
  for (let i = from; i < from + windowSeconds * sampleRateHz; i++) {
    if (signal[i - 1] < 0 && signal[i] >= 0) crossings.push(i - signal[i] / (signal[i] - signal[i - 1]));
  }
  return ((crossings.length - 1) * sampleRateHz) / (crossings[crossings.length - 1] - crossings[0]);
}

/** Root of the mean square, from a sample on. */
export function rms(signal: ArrayLike<number>, from = 0): number {
  let sum = 0;
  for (let i = from; i < signal.length; i++) sum += signal[i] * signal[i];
  return Math.sqrt(sum / (signal.length - from));
}
