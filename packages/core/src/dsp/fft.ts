/** A Fourier transform of one size. It owns its tables, so that transforms allocate nothing. */
export interface Fft {
  readonly size: number;
  /** X[k] = Σ x[n]·e^(−2πi·kn/N), in place. */
  forward(real: Float64Array, imaginary: Float64Array): void;
  /** x[n] = Σ X[k]·e^(+2πi·kn/N), in place and **without** the factor 1/N. */
  inverse(real: Float64Array, imaginary: Float64Array): void;
}

const plans = new Map<number, Fft>();

/** The transform of `size` points (a power of two), made once and kept. Throws a RangeError for other sizes. */
export function fftOfSize(size: number): Fft {
  let plan = plans.get(size);
  if (!plan) plans.set(size, (plan = createFft(size)));
  return plan;
}

/** Radix-2 decimation in time (Cooley & Tukey 1965) with a bit-reversal table. */
function createFft(size: number): Fft {
  if (size < 2 || (size & (size - 1)) !== 0) throw new RangeError(`An FFT takes a power of two, got ${size}.`);
  const cosine = new Float64Array(size / 2);
  const sine = new Float64Array(size / 2);
  for (let i = 0; i < size / 2; i++) {
    cosine[i] = Math.cos((2 * Math.PI * i) / size);
    sine[i] = Math.sin((2 * Math.PI * i) / size);
  }
  const reversed = new Uint32Array(size);
  for (let i = 0, bits = Math.log2(size); i < size; i++) {
    reversed[i] = (reversed[i >> 1] >> 1) | ((i & 1) << (bits - 1));
  }

  function forward(real: Float64Array, imaginary: Float64Array): void {
    for (let i = 0; i < size; i++) {
      const j = reversed[i];
      if (j > i) {
        const re = real[i];
        const im = imaginary[i];
        real[i] = real[j];
        imaginary[i] = imaginary[j];
        real[j] = re;
        imaginary[j] = im;
      }
    }
    for (let half = 1; half < size; half *= 2) {
      const stride = size / (2 * half);
      for (let start = 0; start < size; start += 2 * half) {
        for (let i = start, w = 0; i < start + half; i++, w += stride) {
          const j = i + half;
          const re = real[j] * cosine[w] + imaginary[j] * sine[w];
          const im = imaginary[j] * cosine[w] - real[j] * sine[w];
          real[j] = real[i] - re;
          imaginary[j] = imaginary[i] - im;
          real[i] += re;
          imaginary[i] += im;
        }
      }
    }
  }

  // Swapping the parts conjugates input and output, which turns the forward transform into the inverse one.
  return { size, forward, inverse: (real, imaginary) => forward(imaginary, real) };
}

/** The smallest power of two that is at least `length`. */
export function nextPowerOfTwo(length: number): number {
  return 2 ** Math.ceil(Math.log2(Math.max(2, length)));
}
