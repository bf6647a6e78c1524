/**
 * Half-band filters for changing the rate by two and by four: linear phase, Kaiser window, every second tap but the middle one
 * zero (Crochiere & Rabiner, Multirate Digital Signal Processing, 1983; design formula: Kaiser 1974).
 */
interface Lowpass {
  /** The middle tap, and those on both sides of it, from distance 1 outwards: of a half-band every second one. */
  centre: number;
  taps: Float64Array;
  spacing: 1 | 2;
  /** Distance of the outermost tap: the delay in samples of the higher rate. */
  reach: number;
}

/** @param reach distance of the outermost tap from the middle one, odd */
function designHalfBand(reach: number, beta: number): Lowpass {
  const taps = new Float64Array((reach + 1) / 2);
  let sum = 0;
  taps.forEach((_, j) => {
    const n = 2 * j + 1;
    const window = bessel0(beta * Math.sqrt(1 - (n / (reach + 1)) ** 2)) / bessel0(beta);
    taps[j] = (Math.sin((Math.PI * n) / 2) / (Math.PI * n)) * window;
    sum += taps[j];
  });
  // The two halves together pass a constant unchanged: 0.5 + 2·Σ = 1.
  taps.forEach((tap, j) => (taps[j] = (tap * 0.25) / sum));
  return { centre: 0.5, taps, spacing: 2, reach };
}

/** Modified Bessel function of the first kind, order 0, by its power series (Abramowitz & Stegun 9.6.12). */
export function bessel0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; term > 1e-12 * sum; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** Between 4× and 2×: passes a quarter of the band, so it may be short. Stop band under −90 dB from 0.375 of the rate up. */
const OUTER = designHalfBand(11, 8);
/** From 1× to 2×: flat to 18 kHz at 44.1 kHz, under −80 dB from 26 kHz on. */
const INNER = designHalfBand(27, 7.9);

/**
 * The last step down: a half-band filter would leave −6 dB at the Nyquist frequency, and partials just above it would come
 * back just below. This one is flat to 0.42 of the rate (18.7 kHz at 44.1 kHz) and under −70 dB from 0.5 on.
 */
const LAST = designLowpass({ reach: 57, beta: 6.6, edge: 0.2305 });

/** Windowed-sinc low-pass; `edge` is its −6 dB point as a fraction of the (higher) rate. Taps from the middle outwards. */
function designLowpass({ reach, beta, edge }: { reach: number; beta: number; edge: number }): Lowpass {
  const taps = new Float64Array(reach + 1);
  let sum = 0;
  taps.forEach((_, n) => {
    const window = bessel0(beta * Math.sqrt(1 - (n / (reach + 1)) ** 2)) / bessel0(beta);
    taps[n] = window * (n === 0 ? 2 * edge : Math.sin(2 * Math.PI * edge * n) / (Math.PI * n));
    sum += n === 0 ? taps[n] : 2 * taps[n];
  });
  const [centre, ...others] = taps.map((tap) => tap / sum);
  return { centre, taps: Float64Array.from(others), spacing: 1, reach };
}

export const OVERSAMPLING = 4;
/** Samples at 4× by which a change of rate is held back, so that its delay is a whole number of samples at 1×. */
const DECIMATOR_PAD = 2;
/** Delay of going down from 4×, in samples at 1×. A halver stands on the later sample of each pair. */
export const DECIMATOR_LATENCY = (OUTER.reach - 1 + DECIMATOR_PAD) / OVERSAMPLING + (LAST.reach - 1) / 2;
const INTERPOLATOR_PAD = 3;
/** Delay of going up to 4×, in samples at 1×. */
export const INTERPOLATOR_LATENCY = (OUTER.reach + INTERPOLATOR_PAD) / OVERSAMPLING + INNER.reach / 2;

/** Where a symmetric filter begins to read for its first output: the innermost pair of samples, and how it goes on from there. */
interface Pairs {
  low: number;
  high: number;
  /** From one pair to the next, outwards on both sides. */
  spacing: number;
  /** From one output to the next: of what is read, and of what is written. */
  hop: number;
  outputHop: number;
}

/**
 * Sums of pairs of samples, each by its tap. Four outputs at a time: their sums do not wait for one another, which takes a third of the time
 * of one after the other.
 */
function sumPairs(
  work: Float64Array,
  taps: Float64Array,
  { low, high, spacing, hop, outputHop }: Pairs,
  count: number,
  output: Float64Array,
  to: number,
): void {
  let l = low;
  let h = high;
  let out = to;
  let n = 0;
  for (; n + 3 < count; n += 4) {
    let a = 0;
    let b = 0;
    let c = 0;
    let d = 0;
    for (let j = 0, i = l, k = h; j < taps.length; j++, i -= spacing, k += spacing) {
      const tap = taps[j];
      a += tap * (work[i] + work[k]);
      b += tap * (work[i + hop] + work[k + hop]);
      c += tap * (work[i + 2 * hop] + work[k + 2 * hop]);
      d += tap * (work[i + 3 * hop] + work[k + 3 * hop]);
    }
    output[out] = a;
    output[out + outputHop] = b;
    output[out + 2 * outputHop] = c;
    output[out + 3 * outputHop] = d;
    out += 4 * outputHop;
    l += 4 * hop;
    h += 4 * hop;
  }
  for (; n < count; n++) {
    let sum = 0;
    for (let j = 0, i = l, k = h; j < taps.length; j++, i -= spacing, k += spacing)
      sum += taps[j] * (work[i] + work[k]);
    output[out] = sum;
    out += outputHop;
    l += hop;
    h += hop;
  }
}

/** Halves the rate. Owns its history; `maxOutput` is the most samples that one call may make. */
function createHalver({ taps, centre, spacing, reach }: Lowpass, maxOutput: number) {
  const history = 2 * reach;
  const work = new Float64Array(history + 2 * maxOutput);
  const middle = reach + 1;
  const pairs: Pairs = { low: middle - 1, high: middle + 1, spacing, hop: 2, outputHop: 1 };
  return {
    clear: () => void work.fill(0),
    /** Reads `2 × count` samples of `input` from `from`, writes `count` to `output` from `to`. */
    run(input: Float64Array, from: number, count: number, output: Float64Array, to: number): void {
      for (let i = 0; i < 2 * count; i++) work[history + i] = input[from + i];
      sumPairs(work, taps, pairs, count, output, to);
      for (let n = 0; n < count; n++) output[to + n] += centre * work[middle + 2 * n];
      work.copyWithin(0, 2 * count, 2 * count + history);
    },
  };
}

/** Doubles the rate, keeping the level. */
function createDoubler({ taps, reach }: Lowpass, maxInput: number) {
  const history = reach;
  const work = new Float64Array(history + maxInput);
  const right = history - (reach + 1) / 2 + 1;
  // Samples that stand on the grid are copied, those between are interpolated from `reach + 1` neighbours.
  const pairs: Pairs = { low: right - 1, high: right, spacing: 1, hop: 1, outputHop: 2 };
  const doubled = taps.map((tap) => 2 * tap);
  return {
    clear: () => void work.fill(0),
    /** Reads `count` samples of `input` from `from`, writes `2 × count` to `output` from `to`. */
    run(input: Float64Array, from: number, count: number, output: Float64Array, to: number): void {
      for (let i = 0; i < count; i++) work[history + i] = input[from + i];
      sumPairs(work, doubled, pairs, count, output, to);
      for (let n = 0; n < count; n++) output[to + 2 * n + 1] = work[right + n];
      work.copyWithin(0, count, count + history);
    },
  };
}

/** Holds a signal back by a whole number of samples. */
export function createDelay(samples: number, maxCount: number) {
  const work = new Float64Array(samples + maxCount);
  return {
    clear: () => void work.fill(0),
    /** Delays `signal[from..to)` in place. */
    run(signal: Float64Array, from: number, to: number): void {
      const count = to - from;
      for (let i = 0; i < count; i++) work[samples + i] = signal[from + i];
      for (let i = 0; i < count; i++) signal[from + i] = work[i];
      work.copyWithin(0, count, count + samples);
    },
  };
}

export type Delay = ReturnType<typeof createDelay>;

/** Goes from four times the rate down to it. The delay is DECIMATOR_LATENCY samples. */
export interface Decimator {
  clear(): void;
  /** Reads `4 × count` samples of `input` from `4 × from`, adds `count` to `output` from `from`. */
  add(input: Float64Array, output: Float64Array, from: number, to: number): void;
}

export function createDecimator(maxCount: number): Decimator {
  const pad = createDelay(DECIMATOR_PAD, OVERSAMPLING * maxCount);
  const outer = createHalver(OUTER, 2 * maxCount);
  const inner = createHalver(LAST, maxCount);
  const doubled = new Float64Array(2 * maxCount);
  const single = new Float64Array(maxCount);
  return {
    clear() {
      pad.clear();
      outer.clear();
      inner.clear();
    },
    add(input, output, from, to) {
      const count = to - from;
      pad.run(input, OVERSAMPLING * from, OVERSAMPLING * to);
      outer.run(input, OVERSAMPLING * from, 2 * count, doubled, 0);
      inner.run(doubled, 0, count, single, 0);
      for (let i = 0; i < count; i++) output[from + i] += single[i];
    },
  };
}

/** Goes up to four times the rate. The delay is INTERPOLATOR_LATENCY samples of the lower rate. */
export interface Interpolator {
  clear(): void;
  /** Reads `input[from..to)`, writes `4 × count` samples to `output` from `4 × from`. */
  run(input: Float64Array, output: Float64Array, from: number, to: number): void;
}

export function createInterpolator(maxCount: number): Interpolator {
  const pad = createDelay(INTERPOLATOR_PAD, OVERSAMPLING * maxCount);
  const inner = createDoubler(INNER, maxCount);
  const outer = createDoubler(OUTER, 2 * maxCount);
  const doubled = new Float64Array(2 * maxCount);
  return {
    clear() {
      pad.clear();
      inner.clear();
      outer.clear();
    },
    run(input, output, from, to) {
      const count = to - from;
      inner.run(input, from, count, doubled, 0);
      outer.run(doubled, 0, 2 * count, output, OVERSAMPLING * from);
      pad.run(output, OVERSAMPLING * from, OVERSAMPLING * to);
    },
  };
}
