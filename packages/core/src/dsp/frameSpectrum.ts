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
      const isInside = start >= 0 && start + size <= signal.length;
      if (isInside) takeApart(signal, start, window, even, odd);
      else takeApart(padded(signal, start, size), 0, window, even, odd);
      fft.forward(even, odd);
      putTogether(even, odd, cosines, sines, real, imaginary);
    },
  };
}

/** Even and odd samples of a windowed frame. */
function takeApart(
  signal: ArrayLike<number>,
  start: number,
  window: Float64Array,
  even: Float64Array,
  odd: Float64Array,
): void {
  for (let i = 0, at = start; i < even.length; i++, at += 2) {
    even[i] = signal[at] * window[2 * i];
    odd[i] = signal[at + 1] * window[2 * i + 1];
  }
}

/** So many samples from `start` on, with silence before and after the signal. */
function padded(signal: ArrayLike<number>, start: number, size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => signal[start + i] ?? 0);
}

/** Bins of the whole from the transform of its even samples as real and its odd ones as imaginary parts. */
function putTogether(
  even: Float64Array,
  odd: Float64Array,
  cosines: Float64Array,
  sines: Float64Array,
  real: Float64Array,
  imaginary: Float64Array,
): void {
  const half = even.length;
  real[0] = even[0] + odd[0];
  real[half] = even[0] - odd[0];
  for (let k = 1, other = half - 1; k <= other; k++, other--) {
    const evenRe = even[k] + even[other];
    const evenIm = odd[k] - odd[other];
    const oddRe = odd[k] + odd[other];
    const oddIm = even[other] - even[k];
    const turnedRe = oddRe * cosines[k] + oddIm * sines[k];
    const turnedIm = oddIm * cosines[k] - oddRe * sines[k];
    real[k] = 0.5 * (evenRe + turnedRe);
    imaginary[k] = 0.5 * (evenIm + turnedIm);
    real[other] = 0.5 * (evenRe - turnedRe);
    imaginary[other] = 0.5 * (turnedIm - evenIm);
  }
}
