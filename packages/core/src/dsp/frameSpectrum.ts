import FFT from 'fft.js';
import { hann } from './windows';

/** Spectra of frames of real samples, one after the other in the same buffers. */
export interface FrameSpectrum {
  readonly size: number;
  /** Bins 0 to `size / 2` of the frame transformed last. */
  readonly real: Float64Array;
  readonly imaginary: Float64Array;
  /** Transforms `size` samples from `start` on under the window; what lies outside the signal is silence. */
  transform(signal: ArrayLike<number>, start: number): void;
}

/**
 * A transform of windowed frames of `size` samples, a power of two from 4 on. Of real samples half the
 * spectrum is worked out only, for which the library needs half the time of our complex transform.
 */
export function createFrameSpectrum(size: number, window: Float64Array = hann(size)): FrameSpectrum {
  const half = size / 2;
  const fft = new FFT(size);
  const samples = new Float64Array(size);
  const bins = fft.createComplexArray();
  const real = new Float64Array(half + 1);
  const imaginary = new Float64Array(half + 1);
  return {
    size,
    real,
    imaginary,
    transform(signal, start) {
      const from = Math.min(size, Math.max(0, -start));
      const to = Math.max(from, Math.min(size, signal.length - start));
      samples.fill(0, 0, from);
      for (let i = from; i < to; i++) samples[i] = signal[start + i] * window[i];
      samples.fill(0, to);
      fft.realTransform(bins, samples);
      for (let k = 0; k <= half; k++) {
        real[k] = bins[2 * k];
        imaginary[k] = bins[2 * k + 1];
      }
    },
  };
}
