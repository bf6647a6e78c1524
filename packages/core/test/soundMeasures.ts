/** General-purpose distances of sounds, to compare ours with: nothing here uses our own measures. */
import Meyda from 'meyda';
import { fftOfSize } from '../src/dsp/fft';
import type { Audio } from '../src/reading/audio';

const FLOOR_DB = -70;
const MEL_BANDS = 40;
const SIZES = [512, 2048, 8192];

const monoOf = ({ channels }: Audio) =>
  channels[0].map((_, i) => channels.reduce((sum, channel) => sum + channel[i], 0) / channels.length);

type Weights = [bin: number, weight: number][];
const knownBands = new Map<string, Weights[]>();

/** Triangles on the mel scale (O'Shaughnessy 1987), as weights of bins. */
function melBands(size: number, rateHz: number): Weights[] {
  const key = `${size} ${rateHz}`;
  const bands = knownBands.get(key) ?? newMelBands(size, rateHz);
  knownBands.set(key, bands);
  return bands;
}

function newMelBands(size: number, rateHz: number): Weights[] {
  const melOf = (hz: number) => 2595 * Math.log10(1 + hz / 700);
  const hzOf = (mel: number) => 700 * (10 ** (mel / 2595) - 1);
  const edges = Array.from({ length: MEL_BANDS + 2 }, (_, i) => hzOf((melOf(16000) * i) / (MEL_BANDS + 1)));
  return Array.from({ length: MEL_BANDS }, (_, b) =>
    Array.from({ length: size / 2 }, (_unused, k): [number, number] => {
      const hz = (k * rateHz) / size;
      const [low, middle, high] = edges.slice(b, b + 3);
      return [k, Math.min((hz - low) / (middle - low), (high - hz) / (high - middle))];
    }).filter(([, weight]) => weight > 0),
  );
}

/** Log powers of mel bands, frames one after the other, dB; at the loudness of the RMS. */
function logMel(signal: Float32Array, size: number, rateHz: number): Float64Array {
  const bands = melBands(size, rateHz);
  const fft = fftOfSize(size);
  const rms = Math.sqrt(signal.reduce((sum, x) => sum + x * x, 0) / signal.length) || 1;
  const window = Float64Array.from({ length: size }, (_, i) => (1 - Math.cos((2 * Math.PI * i) / size)) / size / rms);
  const levels = new Float64Array(MEL_BANDS * Math.max(0, Math.floor((signal.length - size) / (size / 2)) + 1));
  const [real, imaginary] = [new Float64Array(size), new Float64Array(size)];
  for (let at = 0; at < levels.length; at += MEL_BANDS) {
    const start = (at / MEL_BANDS) * (size / 2);
    for (let i = 0; i < size; i++) real[i] = signal[start + i] * window[i];
    imaginary.fill(0);
    fft.forward(real, imaginary);
    bands.forEach((weights, band) => {
      let power = 1e-12;
      for (const [k, w] of weights) power += w * (real[k] ** 2 + imaginary[k] ** 2);
      levels[at + band] = Math.max(FLOOR_DB, 10 * Math.log10(power));
    });
  }
  return levels;
}

/** Kept for each sound, since one is compared with many. */
function remembered<T>(measure: (audio: Audio) => T): (audio: Audio) => T {
  const known = new WeakMap<Audio, { value: T }>();
  return (audio) => {
    const { value } = known.get(audio) ?? { value: measure(audio) };
    known.set(audio, { value });
    return value;
  };
}

/** At every window length. */
const melsOf = remembered((audio) => {
  const signal = monoOf(audio);
  return SIZES.map((size) => logMel(signal, size, audio.sampleRateHz));
});

/** Mean difference of log mel spectra at three window lengths, dB. */
export function logMelDistance(a: Audio, b: Audio): number {
  const [x, y] = [melsOf(a), melsOf(b)];
  const sums = SIZES.map((_, i) => {
    const [p, q] = [x[i], y[i]];
    return p.reduce((sum, level, k) => sum + Math.abs(level - q[k]), 0) / p.length;
  });
  return sums.reduce((sum, value) => sum + value, 0) / sums.length;
}

const MFCC_SIZE = 1024;

/** 13 mel-frequency cepstral coefficients of every frame, by a general feature library. */
const mfccsOf = remembered((audio) => {
  const signal = monoOf(audio);
  const rms = Math.sqrt(signal.reduce((sum, x) => sum + x * x, 0) / signal.length) || 1;
  const frames: number[][] = [];
  Object.assign(Meyda, { bufferSize: MFCC_SIZE, sampleRate: audio.sampleRateHz });
  for (let start = 0; start + MFCC_SIZE <= signal.length; start += MFCC_SIZE) {
    // A trace of a constant keeps the logarithm of silence finite.
    const frame = signal.subarray(start, start + MFCC_SIZE).map((x, i) => x / rms + (i % 2 ? 1e-3 : -1e-3));
    frames.push(Meyda.extract('mfcc', frame) as unknown as number[]);
  }
  return frames;
});

/** Mean distance of the cepstral coefficients. */
export function mfccDistance(a: Audio, b: Audio): number {
  const [p, q] = [mfccsOf(a), mfccsOf(b)];
  const distances = p.map((frame, f) => Math.sqrt(frame.reduce((sum, x, i) => sum + (x - q[f][i]) ** 2, 0)));
  return distances.reduce((sum, x) => sum + x, 0) / distances.length;
}

/** Rank correlation (Spearman 1904); equal values share their mean rank. */
export function spearman(a: readonly number[], b: readonly number[]): number {
  const ranks = (values: readonly number[]) =>
    values.map((x) => values.filter((y) => y < x).length + values.filter((y) => y === x).length / 2);
  const [p, q] = [ranks(a), ranks(b)];
  const mean = p.length / 2;
  const product = (x: readonly number[], y: readonly number[]) =>
    x.reduce((sum, value, i) => sum + (value - mean) * (y[i] - mean), 0);
  return product(p, q) / Math.sqrt(product(p, p) * product(q, q));
}
