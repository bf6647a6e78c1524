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
 * A transform of windowed frames of `size` samples, a power of two from 4 on. Even samples make the real part and odd ones the imaginary
 * part of a transform of half the size, whose symmetric parts are taken apart again (Press et al., Numerical Recipes, 12.3).
 */
export function createFrameSpectrum(size: number, window: Float64Array = hann(size)): FrameSpectrum {
  const half = size / 2;
  const fft = fftOfSize(half);
  const re = new Float64Array(half);
  const im = new Float64Array(half);
  const real = new Float64Array(half + 1);
  const imaginary = new Float64Array(half + 1);
  const cosine = Float64Array.from({ length: half }, (_, k) => Math.cos((2 * Math.PI * k) / size));
  const sine = Float64Array.from({ length: half }, (_, k) => Math.sin((2 * Math.PI * k) / size));

  function fill(signal: ArrayLike<number>, start: number): void {
    if (start >= 0 && start + size <= signal.length) {
      for (let m = 0, i = start; m < half; m++, i += 2) {
        re[m] = signal[i] * window[2 * m];
        im[m] = signal[i + 1] * window[2 * m + 1];
      }
      return;
    }
    for (let m = 0, i = start; m < half; m++, i += 2) {
      re[m] = i >= 0 && i < signal.length ? signal[i] * window[2 * m] : 0;
      im[m] = i >= -1 && i + 1 < signal.length ? signal[i + 1] * window[2 * m + 1] : 0;
    }
  }

  return {
    size,
    real,
    imaginary,
    transform(signal, start) {
      fill(signal, start);
      fft.forward(re, im);
      real[0] = re[0] + im[0];
      imaginary[0] = 0;
      real[half] = re[0] - im[0];
      imaginary[half] = 0;
      for (let k = 1; k < half; k++) {
        const evenRe = (re[k] + re[half - k]) / 2;
        const evenIm = (im[k] - im[half - k]) / 2;
        const oddRe = (im[k] + im[half - k]) / 2;
        const oddIm = (re[half - k] - re[k]) / 2;
        real[k] = evenRe + cosine[k] * oddRe + sine[k] * oddIm;
        imaginary[k] = evenIm + cosine[k] * oddIm - sine[k] * oddRe;
      }
    },
  };
}
