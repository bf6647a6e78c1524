/** What tones are made of, by formula, for tests: nothing here uses the engine. */
import { fftOfSize, nextPowerOfTwo } from '../../src/dsp/fft';
import { addTwo } from '../partialSums';
import { createRandom } from '../signals';

export const MADE_RATE_HZ = 44100;

export type Signal = Float64Array;
/** A value at a time in seconds. */
export type Over = (seconds: number) => number;

export const hzOf = (midi: number) => 440 * 2 ** ((midi - 69) / 12);
export const lengthOf = (seconds: number) => Math.round(seconds * MADE_RATE_HZ);
export const mixed = (...signals: readonly Signal[]): Signal =>
  signals[0].map((_, i) => signals.reduce((sum, signal) => sum + (signal[i] ?? 0), 0));
export const shaped = (signal: Signal, gain: Over): Signal => signal.map((x, i) => x * gain(i / MADE_RATE_HZ));
export const peakOf = (signal: Signal) => signal.reduce((a, x) => Math.max(a, Math.abs(x)), 0);

export type Amplitude = (n: number, seconds: number) => number;
export const saw: Amplitude = (n) => 1 / n;
export const square: Amplitude = (n) => (n % 2 ? 1 / n : 0);
export const triangle: Amplitude = (n) => (n % 2 ? 1 / n ** 2 : 0);
export const sine: Amplitude = (n) => (n === 1 ? 1 : 0);
export const pulse =
  (width: number): Amplitude =>
  (n) =>
    Math.sin(Math.PI * n * width) / n;

interface Tone {
  seconds: number;
  hz: number;
  amplitude?: Amplitude;
  /** Distance from `hz` in semitones over time. */
  semitones?: Over;
  /** In turns. */
  phase?: number;
}

let ranBefore = 0;

/** Makes something of oscillators that have run for some seconds when the note begins. */
export function withOscillatorsRunning<T>(seconds: number, make: () => T): T {
  ranBefore = seconds;
  try {
    return make();
  } finally {
    ranBefore = 0;
  }
}

/** Samples over which amplitudes and pitch stand still. */
const BLOCK = 16;

/** Partials up to 18 kHz, amplitudes and pitch renewed every 16 samples. */
export function tone({ seconds, hz, amplitude = saw, semitones = () => 0, phase = 0 }: Tone): Signal {
  const out = new Float64Array(lengthOf(seconds));
  const amplitudes = new Float64Array(Math.ceil(18000 / hz));
  let angle = 2 * Math.PI * (phase + hz * ranBefore);
  for (let from = 0; from < out.length; from += BLOCK) {
    const at = from / MADE_RATE_HZ;
    const step = (2 * Math.PI * hz * 2 ** (semitones(at) / 12)) / MADE_RATE_HZ;
    for (let n = 1; n < amplitudes.length; n++) amplitudes[n] = amplitude(n, at);
    // What lies beyond the end is not written.
    for (let i = 0; i < BLOCK; i += 2) addTwo(out, from + i, amplitudes, angle + i * step, angle + (i + 1) * step);
    angle += BLOCK * step;
  }
  return out;
}

/** Voices of one tone at distances in cents, each with a phase of its own. */
export const voicesOf = (spec: Tone, cents: readonly number[], random: () => number): Signal =>
  mixed(...cents.map((cent) => tone({ ...spec, hz: spec.hz * 2 ** (cent / 1200), phase: random() })));

/** Distances of voices evenly over a spread in cents. */
export const spreadOf = (count: number, cents: number) =>
  Array.from({ length: count }, (_, i) => cents * (i / (count - 1) - 0.5));

/** A sine whose phase is moved by another at `ratio` times its pitch (Chowning 1973). */
export function fmTone(seconds: number, hz: number, ratio: number, index: Over): Signal {
  return Float64Array.from({ length: lengthOf(seconds) }, (_, i) => {
    const t = i / MADE_RATE_HZ;
    const turned = 2 * Math.PI * hz * (t + ranBefore);
    return Math.sin(turned + index(t) * Math.sin(ratio * turned));
  });
}

export function noise(seconds: number, random: () => number): Signal {
  return Float64Array.from({ length: lengthOf(seconds) }, () => 2 * random() - 1);
}

/** Two poles whose frequency moves; coefficients of the Audio EQ Cookbook. */
export function twoPole(signal: Signal, kind: 'low' | 'band' | 'high', cutoffHz: Over, q: number): Signal {
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  let [b0, b1, b2, a1, a2] = [0, 0, 0, 0, 0];
  return signal.map((x, i) => {
    if (i % 8 === 0) {
      const w = (2 * Math.PI * Math.min(0.45 * MADE_RATE_HZ, cutoffHz(i / MADE_RATE_HZ))) / MADE_RATE_HZ;
      const alpha = Math.sin(w) / 2 / q;
      const cos = Math.cos(w);
      const a0 = 1 + alpha;
      const edge = kind === 'low' ? 1 - cos : 1 + cos;
      [b0, b1, b2] =
        kind === 'band'
          ? [alpha / a0, 0, -alpha / a0]
          : [edge / 2 / a0, (kind === 'low' ? edge : -edge) / a0, edge / 2 / a0];
      [a1, a2] = [(-2 * cos) / a0, (1 - alpha) / a0];
    }
    const y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
    [x1, x2, y1, y2] = [x, x1, y, y1];
    return y;
  });
}

/** A curve over a signal, at four times the rate by a transform of the whole, so that nothing folds back. */
export function driven(signal: Signal, curve: (x: number) => number): Signal {
  const size = nextPowerOfTwo(signal.length);
  const [re, im] = [new Float64Array(size), new Float64Array(size)];
  re.set(signal);
  fftOfSize(size).forward(re, im);
  const [wideRe, wideIm] = [new Float64Array(4 * size), new Float64Array(4 * size)];
  const half = size / 2;
  for (let k = 0; k < half; k++) {
    wideRe[k] = re[k];
    wideIm[k] = im[k];
    if (k === 0) continue;
    wideRe[4 * size - k] = re[size - k];
    wideIm[4 * size - k] = im[size - k];
  }
  fftOfSize(4 * size).inverse(wideRe, wideIm);
  const bent = wideRe.map((x) => curve(x / size));
  const bentIm = new Float64Array(4 * size);
  fftOfSize(4 * size).forward(bent, bentIm);
  re.fill(0);
  im.fill(0);
  for (let k = 0; k < half; k++) {
    re[k] = bent[k];
    im[k] = bentIm[k];
    if (k === 0) continue;
    re[size - k] = bent[4 * size - k];
    im[size - k] = bentIm[4 * size - k];
  }
  fftOfSize(size).inverse(re, im);
  return re.slice(0, signal.length).map((x) => x / (4 * size));
}

/** A level: rises in a straight line, falls by a time constant to a sustain, is let go by a time constant. */
export function level({ attack = 0.004, decay = 0.3, sustain = 1, off = Infinity, release = 0.05 } = {}): Over {
  const on = (at: number) => (at < attack ? at / attack : sustain + (1 - sustain) * Math.exp(-(at - attack) / decay));
  return (t) => (t < off ? on(t) : on(off) * Math.exp(-(t - off) / release));
}

/** A value that falls from one to another by a time constant, evenly in octaves. */
export const falling =
  (from: number, to: number, seconds: number): Over =>
  (t) =>
    to * (from / to) ** Math.exp(-t / seconds);

/** Gain of resonances with a frequency and a width in Hz over those of a saw, for amplitudes of partials. */
export const formants =
  (hz: number, centres: (seconds: number) => readonly number[], widthHz: number): Amplitude =>
  (n, seconds) =>
    centres(seconds).reduce((sum, centre) => sum + 1 / Math.sqrt(1 + ((n * hz - centre) / (widthHz / 2)) ** 2), 0.02) /
    n;

export { createRandom };
