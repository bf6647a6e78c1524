import { fftOfSize, nextPowerOfTwo } from '../dsp/fft';
import { FRAME_SAMPLES } from '../patch/schema';

/**
 * One period (or several frames of one) kept at many band limits, so that an oscillator can always read a copy with
 * nothing over the Nyquist frequency. Plain data: it can be made in one thread and sent to another.
 */
export interface BandlimitedTable {
  frameCount: number;
  /** From most harmonics to fewest. */
  levels: TableLevel[];
}

export interface TableLevel {
  /** Highest harmonic in this copy. */
  harmonics: number;
  /** Samples of a period. */
  size: number;
  /** Samples from one frame to the next: `size` and three guards, so that a four-point read needs no wrapping. */
  stride: number;
  samples: Float64Array;
}

/** Fourier coefficients of a period, x(φ) = Σ cosine[n]·cos(2πnφ) + sine[n]·sin(2πnφ); index 0 is not used. */
export interface Harmonics {
  cosine: Float64Array;
  sine: Float64Array;
}

export const MAX_HARMONICS = FRAME_SAMPLES / 2;

/**
 * Harmonic counts of the copies. A quarter of an octave between neighbours: at worst the partials over 0.84 of the
 * Nyquist frequency are missing, and nothing folds back.
 */
const HARMONIC_COUNTS = (() => {
  const counts: number[] = [];
  for (let count = MAX_HARMONICS; count >= 1; count = Math.min(count - 1, Math.floor(count * 2 ** -0.25)))
    counts.push(count);
  return counts;
})();

/**
 * Four-point Lagrange reading errs by about 0.023·(2πh/N)⁴ on harmonic h of a table of N samples. Sixteen samples per
 * period of the highest harmonic (eight for the largest, whose harmonics are weak) keep the error 90 dB under a saw's fundamental.
 */
const tableSize = (harmonics: number) => Math.min(8192, Math.max(256, nextPowerOfTwo(16 * harmonics)));

export function tableFromHarmonics(frames: readonly Harmonics[]): BandlimitedTable {
  const levels = HARMONIC_COUNTS.map((harmonics): TableLevel => {
    const size = tableSize(harmonics);
    const stride = size + 3;
    const samples = new Float64Array(frames.length * stride);
    const real = new Float64Array(size);
    const imaginary = new Float64Array(size);
    const fft = fftOfSize(size);
    frames.forEach(({ cosine, sine }, frame) => {
      real.fill(0);
      imaginary.fill(0);
      for (let n = 1; n <= Math.min(harmonics, cosine.length - 1); n++) {
        real[n] = cosine[n];
        imaginary[n] = -sine[n];
      }
      fft.inverse(real, imaginary);
      const offset = frame * stride + 1;
      for (let i = 0; i < size; i++) samples[offset + i] = real[i];
      samples[offset - 1] = real[size - 1];
      samples[offset + size] = real[0];
      samples[offset + size + 1] = real[1];
    });
    return { harmonics, size, stride, samples };
  });
  return { frameCount: frames.length, levels };
}

/** A table from stored frames of 2048 samples. A frame's average (DC) is left out. */
export function tableFromFrames(samples: Float32Array): BandlimitedTable {
  const frames: Harmonics[] = [];
  for (let start = 0; start < samples.length; start += FRAME_SAMPLES) {
    frames.push(harmonicsOfFrame(samples.subarray(start, start + FRAME_SAMPLES)));
  }
  return tableFromHarmonics(frames);
}

/** Fourier coefficients of one period of 2048 samples. */
export function harmonicsOfFrame(frame: ArrayLike<number>): Harmonics {
  const real = Float64Array.from(frame);
  const imaginary = new Float64Array(FRAME_SAMPLES);
  fftOfSize(FRAME_SAMPLES).forward(real, imaginary);
  const cosine = new Float64Array(MAX_HARMONICS);
  const sine = new Float64Array(MAX_HARMONICS);
  for (let n = 1; n < MAX_HARMONICS; n++) {
    cosine[n] = (2 * real[n]) / FRAME_SAMPLES;
    sine[n] = (-2 * imaginary[n]) / FRAME_SAMPLES;
  }
  return { cosine, sine };
}

/** Index of the richest copy that a tone of `cyclesPerSample` can read without folding. */
export function levelFor(table: BandlimitedTable, cyclesPerSample: number): number {
  const allowed = 0.5 / cyclesPerSample;
  const { levels } = table;
  let low = 0;
  let high = levels.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (levels[middle].harmonics <= allowed) high = middle;
    else low = middle + 1;
  }
  return low;
}
