import { fftOfSize } from './fft';
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
 * A transform of windowed frames of `size` samples, a power of two from 4 on. Even and odd samples go through
 * one complex transform of half the size as its real and imaginary parts, and are put together (Sorensen et
 * al. 1987).
 */
export function createFrameSpectrum(size: number, window: Float64Array = hann(size)): FrameSpectrum {
  const half = size / 2;
  const fft = fftOfSize(half);
  const even = new Float64Array(half);
  const odd = new Float64Array(half);
  const cosines = Float64Array.from({ length: half }, (_, k) => Math.cos((2 * Math.PI * k) / size));
  const sines = Float64Array.from({ length: half }, (_, k) => Math.sin((2 * Math.PI * k) / size));
  const real = new Float64Array(half + 1);
  const imaginary = new Float64Array(half + 1);
  return {
    size,
    real,
    imaginary,
    transform(signal, start) {
      for (let i = 0, at = start; i < half; i++, at += 2) {
        even[i] = at >= 0 && at < signal.length ? signal[at] * window[2 * i] : 0;
        odd[i] = at >= -1 && at + 1 < signal.length ? signal[at + 1] * window[2 * i + 1] : 0;
      }
      fft.forward(even, odd);
      real[0] = even[0] + odd[0];
      real[half] = even[0] - odd[0];
      for (let k = 1; k < half; k++) {
        const other = half - k;
        const oddRe = odd[k] + odd[other];
        const oddIm = even[other] - even[k];
        real[k] = (even[k] + even[other] + oddRe * cosines[k] + oddIm * sines[k]) / 2;
        imaginary[k] = (odd[k] - odd[other] + oddIm * cosines[k] - oddRe * sines[k]) / 2;
      }
    },
  };
}
