import { kernel, kernelNumbers } from './kernel/kernel';

/** A Fourier transform of one size. It owns its tables, so that transforms allocate nothing. */
export interface Fft {
  readonly size: number;
  /** X[k] = Σ x[n]·e^(−2πi·kn/N), in place. */
  forward(real: Float64Array, imaginary: Float64Array): void;
  /** x[n] = Σ X[k]·e^(+2πi·kn/N), in place and **without** the factor 1/N. */
  inverse(real: Float64Array, imaginary: Float64Array): void;
}

const plans = new Map<number, Fft>();

/**
 * The transform of `size` points (a power of two), made once and kept. Throws a RangeError for other sizes.
 */
export function fftOfSize(size: number): Fft {
  let plan = plans.get(size);
  if (!plan) plans.set(size, (plan = createFft(size)));
  return plan;
}

const MOST_POINTS = kernel.MOST_POINTS.value;
const kernelReal = kernelNumbers('points', MOST_POINTS);
const kernelImaginary = kernelNumbers('imaginaries', MOST_POINTS);
const kernelTurns = kernelNumbers('turns', 2 * MOST_POINTS);

function createFft(size: number): Fft {
  if (size < 2 || (size & (size - 1)) !== 0) throw new RangeError(`An FFT takes a power of two, got ${size}.`);
  const forward = size > MOST_POINTS ? ofHalves(size) : inKernel(size);
  // Swapping the parts conjugates input and output, which turns the forward transform into the inverse one.
  return { size, forward, inverse: (real, imaginary) => forward(imaginary, real) };
}

/**
 * Decimation in time with a bit-reversal table (Cooley & Tukey 1965), two stages of radix 2 in one pass,
 * which takes a quarter of the multiplications off and reads the memory half as often.
 */
function inKernel(size: number): Fft['forward'] {
  const bits = Math.log2(size);
  const reversed = new Uint32Array(size);
  for (let i = 0; i < size; i++) reversed[i] = (reversed[i >> 1] >> 1) | ((i & 1) << (bits - 1));
  // The first pass turns nothing: it is one of radix 2 where the number of stages is odd.
  for (let quarter = bits % 2 === 0 ? 4 : 2; 4 * quarter <= size; quarter *= 4) writeTurns(quarter);
  const [outReal, outImaginary] = [kernelReal.subarray(0, size), kernelImaginary.subarray(0, size)];
  return (real, imaginary) => {
    for (let i = 0; i < size; i++) {
      const j = reversed[i];
      kernelReal[i] = real[j];
      kernelImaginary[i] = imaginary[j];
    }
    kernel.transform(size);
    real.set(outReal);
    imaginary.set(outImaginary);
  };
}

/** What a pass over groups of four times `quarter` points turns by, in the kernel's order. */
function writeTurns(quarter: number): void {
  for (let k = 0; k < quarter; k++) {
    const place = 4 * quarter + 8 * (k >> 1) + (k & 1);
    const angle = (2 * Math.PI * k) / (4 * quarter);
    kernelTurns[place] = Math.cos(angle);
    kernelTurns[place + 2] = Math.sin(angle);
    kernelTurns[place + 4] = Math.cos(2 * angle);
    kernelTurns[place + 6] = Math.sin(2 * angle);
  }
}

/** What the kernel has no room for: the transforms of even and odd points, put together. */
function ofHalves(size: number): Fft['forward'] {
  const half = size / 2;
  const { forward } = fftOfSize(half);
  const [even, odd] = [0, 1].map(() => ({ re: new Float64Array(half), im: new Float64Array(half) }));
  const cosines = Float64Array.from({ length: half }, (_, k) => Math.cos((2 * Math.PI * k) / size));
  const sines = Float64Array.from({ length: half }, (_, k) => Math.sin((2 * Math.PI * k) / size));
  return (real, imaginary) => {
    for (let k = 0; k < half; k++) {
      even.re[k] = real[2 * k];
      even.im[k] = imaginary[2 * k];
      odd.re[k] = real[2 * k + 1];
      odd.im[k] = imaginary[2 * k + 1];
    }
    forward(even.re, even.im);
    forward(odd.re, odd.im);
    for (let k = 0; k < half; k++) {
      const re = odd.re[k] * cosines[k] + odd.im[k] * sines[k];
      const im = odd.im[k] * cosines[k] - odd.re[k] * sines[k];
      real[k] = even.re[k] + re;
      imaginary[k] = even.im[k] + im;
      real[k + half] = even.re[k] - re;
      imaginary[k + half] = even.im[k] - im;
    }
  };
}

/** The smallest power of two that is at least `length`. */
export function nextPowerOfTwo(length: number): number {
  return 2 ** Math.ceil(Math.log2(Math.max(2, length)));
}
