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

/**
 * Decimation in time with a bit-reversal table (Cooley & Tukey 1965), two stages of radix 2 in one pass,
 * which takes a quarter of the multiplications off and reads the memory half as often.
 */
function createFft(size: number): Fft {
  if (size < 2 || (size & (size - 1)) !== 0) throw new RangeError(`An FFT takes a power of two, got ${size}.`);
  const bits = Math.log2(size);
  const reversed = new Uint32Array(size);
  for (let i = 0; i < size; i++) reversed[i] = (reversed[i >> 1] >> 1) | ((i & 1) << (bits - 1));
  // Lengths of a quarter of each pass: an odd number of stages begins with one of radix 2.
  const quarters: number[] = [];
  for (let quarter = bits % 2 === 0 ? 1 : 2; 4 * quarter <= size; quarter *= 4) quarters.push(quarter);
  // Cosine and sine of a turn over the length of the pass, and of twice that, one after the other as they are
  // used.
  const turns = quarters.map((quarter) =>
    Float64Array.from({ length: 4 * quarter }, (_, k) => {
      const angle = (2 * Math.PI * (k >> 2) * (k & 2 ? 2 : 1)) / (4 * quarter);
      return k & 1 ? Math.sin(angle) : Math.cos(angle);
    }),
  );

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
    if (bits % 2 === 1) pairs(real, imaginary, size);
    for (let pass = 0; pass < quarters.length; pass++) fours(real, imaginary, size, quarters[pass], turns[pass]);
  }

  // Swapping the parts conjugates input and output, which turns the forward transform into the inverse one.
  return { size, forward, inverse: (real, imaginary) => forward(imaginary, real) };
}

/** The first stage of radix 2: sums and differences. */
function pairs(real: Float64Array, imaginary: Float64Array, size: number): void {
  for (let i = 0; i < size; i += 2) {
    const re = real[i + 1];
    const im = imaginary[i + 1];
    real[i + 1] = real[i] - re;
    imaginary[i + 1] = imaginary[i] - im;
    real[i] += re;
    imaginary[i] += im;
  }
}

/** Two stages of radix 2 at once, over groups of four times `quarter` points. */
function fours(real: Float64Array, imaginary: Float64Array, size: number, quarter: number, turns: Float64Array): void {
  for (let start = 0; start < size; start += 4 * quarter) {
    for (let k = 0; k < quarter; k++) {
      const c1 = turns[4 * k];
      const s1 = turns[4 * k + 1];
      const c2 = turns[4 * k + 2];
      const s2 = turns[4 * k + 3];
      const a = start + k;
      const b = a + quarter;
      const c = b + quarter;
      const d = c + quarter;
      const bRe = real[b] * c2 + imaginary[b] * s2;
      const bIm = imaginary[b] * c2 - real[b] * s2;
      const dRe = real[d] * c2 + imaginary[d] * s2;
      const dIm = imaginary[d] * c2 - real[d] * s2;
      const sumRe = real[a] + bRe;
      const sumIm = imaginary[a] + bIm;
      const offRe = real[a] - bRe;
      const offIm = imaginary[a] - bIm;
      const upRe = real[c] + dRe;
      const upIm = imaginary[c] + dIm;
      const downRe = real[c] - dRe;
      const downIm = imaginary[c] - dIm;
      const turnedRe = upRe * c1 + upIm * s1;
      const turnedIm = upIm * c1 - upRe * s1;
      // A quarter of a turn further: the real part of one is the imaginary part of the other.
      const crossedRe = downIm * c1 - downRe * s1;
      const crossedIm = -downRe * c1 - downIm * s1;
      real[a] = sumRe + turnedRe;
      imaginary[a] = sumIm + turnedIm;
      real[c] = sumRe - turnedRe;
      imaginary[c] = sumIm - turnedIm;
      real[b] = offRe + crossedRe;
      imaginary[b] = offIm + crossedIm;
      real[d] = offRe - crossedRe;
      imaginary[d] = offIm - crossedIm;
    }
  }
}

/** The smallest power of two that is at least `length`. */
export function nextPowerOfTwo(length: number): number {
  return 2 ** Math.ceil(Math.log2(Math.max(2, length)));
}
