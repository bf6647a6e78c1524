import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { FRAME_SAMPLES } from '../../patch/schema';

/**
 * One period (or several frames of one) kept at many band limits, so that an oscillator can always read a
 * copy with nothing over the Nyquist frequency. Plain data: it can be made in one thread and sent to another.
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
  /** Numbers from one frame to the next. */
  stride: number;
  /** Per sample the four coefficients of the cubic to the next one, from the constant up. */
  cubics: Float64Array;
}

/**
 * Fourier coefficients of a period, x(φ) = Σ cosine[n]·cos(2πnφ) + sine[n]·sin(2πnφ); index 0 is not used.
 */
export interface Harmonics {
  cosine: Float64Array;
  sine: Float64Array;
}

export const MAX_HARMONICS = FRAME_SAMPLES / 2;

/**
 * Harmonic counts of the copies. A quarter of an octave between neighbours: at worst the partials over 0.84
 * of the Nyquist frequency are missing, and nothing folds back.
 */
const HARMONIC_COUNTS = (() => {
  const counts: number[] = [];
  for (let count = MAX_HARMONICS; count >= 1; count = Math.min(count - 1, Math.floor(count * 2 ** -0.25)))
    counts.push(count);
  return counts;
})();

/** Reading errors stay this far under the strongest harmonic. */
const READING_ERROR = 10 ** (-92 / 20);
const MIN_SIZE = 128;
const MAX_SIZE = 16384;

/**
 * Samples that copies need, by their highest harmonic. Cubics with the right values and slopes (Hermite) err
 * by about (2πh/N)⁴/384 on harmonic h of a table of N samples, so weak high harmonics, as most sounds have,
 * ask for fewer than strong ones. Small tables matter: many voices read them at once, and they should fit in
 * the processor's nearest cache.
 */
function tableSizes(frames: readonly Harmonics[]): (harmonics: number) => number {
  /** What the harmonics up to each ask for. */
  const asked = new Float64Array(MAX_HARMONICS + 1);
  for (const { cosine, sine } of frames) {
    const powers = cosine.map((c, n) => c * c + sine[n] * sine[n]);
    const strongest = powers.subarray(1).reduce((most, power) => Math.max(most, power), 0);
    if (strongest === 0) continue;
    for (let n = 1; n < powers.length; n++) {
      const share = Math.sqrt(powers[n] / strongest);
      asked[n] = Math.max(asked[n], 2 * Math.PI * n * (share / (384 * READING_ERROR)) ** 0.25);
    }
  }
  for (let n = 1; n < asked.length; n++) asked[n] = Math.max(asked[n], asked[n - 1]);
  return (harmonics) => {
    const size = Math.max(MIN_SIZE, 2.5 * harmonics, asked[harmonics]);
    return Math.min(MAX_SIZE, nextPowerOfTwo(size));
  };
}

export function tableFromHarmonics(frames: readonly Harmonics[]): BandlimitedTable {
  const sizeOf = tableSizes(frames);
  const levels = HARMONIC_COUNTS.map((harmonics): TableLevel => {
    const size = sizeOf(harmonics);
    const stride = 4 * size;
    const cubics = new Float64Array(frames.length * stride);
    const real = new Float64Array(size);
    const imaginary = new Float64Array(size);
    const fft = fftOfSize(size);
    const perSample = (2 * Math.PI) / size;
    frames.forEach(({ cosine, sine }, frame) => {
      real.fill(0);
      imaginary.fill(0);
      // Values come out as the real part of one inverse transform, slopes as its imaginary part: Σ (c −
      // js)·(1 + jd)·e^…, where d turns a harmonic into its derivative. Both are real signals, so each needs
      // its mirrored half.
      for (let n = 1; n <= Math.min(harmonics, cosine.length - 1); n++) {
        const c = cosine[n] / 2;
        const s = sine[n] / 2;
        const d = n * perSample;
        // Value: c − js at n, c + js at −n. Slope times j: j·(d·s + j·d·c) at n, j·(d·s − j·d·c) at −n.
        real[n] = c - d * c;
        imaginary[n] = -s + d * s;
        real[size - n] = c + d * c;
        imaginary[size - n] = s + d * s;
      }
      fft.inverse(real, imaginary);
      const offset = frame * stride;
      for (let i = 0, k = offset; i < size; i++, k += 4) {
        const next = (i + 1) % size;
        const chord = real[next] - real[i];
        const bend = imaginary[i] - chord;
        const twist = imaginary[next] - chord + bend;
        cubics[k] = real[i];
        cubics[k + 1] = imaginary[i];
        cubics[k + 2] = -bend - twist;
        cubics[k + 3] = twist;
      }
    });
    return { harmonics, size, stride, cubics };
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
