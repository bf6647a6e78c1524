import { fftOfSize } from './fft';
import { createFrameSpectrum } from './frameSpectrum';
import { hann } from './windows';

/** Spectra of a signal, frame after frame, one row of `bins` values each. */
export interface Stft {
  size: number;
  hop: number;
  bins: number;
  count: number;
  real: Float32Array;
  imaginary: Float32Array;
}

/** Frames overlap fourfold: root-Hann windows going and coming add up to a constant, 2. */
const OVERLAP = 4;
const WINDOW_SUM = 2;

const rootWindows = new Map<number, Float64Array>();

function rootHann(size: number): Float64Array {
  let window = rootWindows.get(size);
  if (!window) rootWindows.set(size, (window = hann(size).map(Math.sqrt)));
  return window;
}

/** Number of frames that cover a signal, its edges as often as its middle. */
const framesOf = (length: number, size: number) => Math.ceil(length / (size / OVERLAP)) + OVERLAP - 1;

/** First sample of a frame; the first frames begin before the signal. */
const startOf = (frame: number, size: number) => (frame - OVERLAP + 1) * (size / OVERLAP);

/** Middle of a frame in samples. */
export const frameMiddle = (frame: number, size: number): number => startOf(frame, size) + size / 2;

/**
 * Short-time Fourier transform that can be undone (Allen & Rabiner 1977).
 *
 * @param size samples a frame, a power of two
 */
export function analyseStft(signal: ArrayLike<number>, size: number): Stft {
  const spectrum = createFrameSpectrum(size, rootHann(size));
  const bins = size / 2 + 1;
  const count = framesOf(signal.length, size);
  const stft: Stft = {
    size,
    hop: size / OVERLAP,
    bins,
    count,
    real: new Float32Array(count * bins),
    imaginary: new Float32Array(count * bins),
  };
  for (let frame = 0; frame < count; frame++) {
    spectrum.transform(signal, startOf(frame, size));
    stft.real.set(spectrum.real, frame * bins);
    stft.imaginary.set(spectrum.imaginary, frame * bins);
  }
  return stft;
}

/** The signal of `length` samples that spectra belong to; of changed spectra, the one that comes nearest. */
export function synthesiseStft({ size, bins, count, real, imaginary }: Stft, length: number): Float32Array {
  const fft = fftOfSize(size);
  const window = rootHann(size);
  const sum = new Float64Array(length);
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  const scale = 1 / size / WINDOW_SUM;
  for (let frame = 0; frame < count; frame++) {
    const row = frame * bins;
    for (let k = 0; k < bins; k++) {
      re[k] = real[row + k];
      im[k] = imaginary[row + k];
    }
    for (let k = 1; k < bins - 1; k++) {
      re[size - k] = re[k];
      im[size - k] = -im[k];
    }
    fft.inverse(re, im);
    const start = startOf(frame, size);
    const from = Math.max(0, -start);
    const to = Math.min(size, length - start);
    for (let i = from; i < to; i++) sum[start + i] += scale * window[i] * re[i];
  }
  return Float32Array.from(sum);
}
