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

/** Where a symmetric filter begins to read for its first output: the innermost pair of samples. */
interface Pairs {
  low: number;
  high: number;
  /** From one pair to the next, outwards on both sides, and from one output's innermost pair to the next's. */
  hop: number;
}

/**
 * Adds sums of pairs of samples, each by its tap, to every `outputHop`-th output. Four outputs are worked out at a time: what is a sample of one
 * is that of the next with another tap, so each is read once for all four; one after the other takes three times as long.
 */
function addPairs(
  work: Float64Array,
  taps: Float64Array,
  { low, high, hop }: Pairs,
  count: number,
  output: Float64Array,
  to: number,
  outputHop: number,
): void {
  const last = taps.length - 1;
  let out = to;
  let n = 0;
  for (; n + 3 < count; n += 4) {
    let l = low + n * hop;
    let h = high + (n + 3) * hop;
    let l0 = work[l];
    let l1 = work[l + hop];
    let l2 = work[l + 2 * hop];
    let l3 = work[l + 3 * hop];
    let h0 = work[h - 3 * hop];
    let h1 = work[h - 2 * hop];
    let h2 = work[h - hop];
    let h3 = work[h];
    let a = 0;
    let b = 0;
    let c = 0;
    let d = 0;
    for (let j = 0; j < last; j++) {
      const tap = taps[j];
      a += tap * (l0 + h0);
      b += tap * (l1 + h1);
      c += tap * (l2 + h2);
      d += tap * (l3 + h3);
      l -= hop;
      h += hop;
      l3 = l2;
      l2 = l1;
      l1 = l0;
      l0 = work[l];
      h0 = h1;
      h1 = h2;
      h2 = h3;
      h3 = work[h];
    }
    const tap = taps[last];
    output[out] += a + tap * (l0 + h0);
    output[out + outputHop] += b + tap * (l1 + h1);
    output[out + 2 * outputHop] += c + tap * (l2 + h2);
    output[out + 3 * outputHop] += d + tap * (l3 + h3);
    out += 4 * outputHop;
  }
  for (; n < count; n++) {
    let sum = 0;
    for (let j = 0, i = low + n * hop, k = high + n * hop; j <= last; j++, i -= hop, k += hop) {
      sum += taps[j] * (work[i] + work[k]);
    }
    output[out] += sum;
    out += outputHop;
  }
}

/** Halves the rate. Owns its history; `maxOutput` is the most samples that one call may make. */
function createHalver({ taps, centre, spacing, reach }: Lowpass, maxOutput: number) {
  const history = 2 * reach;
  const work = new Float64Array(history + 2 * maxOutput);
  const middle = reach + 1;
  // Every second tap belongs to every second sample, as outputs do.
  const parts = Array.from({ length: 2 / spacing }, (_, part) => ({
    taps: taps.filter((_, j) => j % (2 / spacing) === part),
    pairs: { low: middle - 1 - part, high: middle + 1 + part, hop: 2 } satisfies Pairs,
  }));
  return {
    clear: () => void work.fill(0),
    /** Reads `2 × count` samples of `input` from `from`, writes `count` to `output` from `to`. */
    run(input: Float64Array, from: number, count: number, output: Float64Array, to: number): void {
      for (let i = 0; i < 2 * count; i++) work[history + i] = input[from + i];
      for (let n = 0; n < count; n++) output[to + n] = centre * work[middle + 2 * n];
      for (let p = 0; p < parts.length; p++) addPairs(work, parts[p].taps, parts[p].pairs, count, output, to, 1);
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
  const pairs: Pairs = { low: right - 1, high: right, hop: 1 };
  const doubled = taps.map((tap) => 2 * tap);
  return {
    clear: () => void work.fill(0),
    /** Reads `count` samples of `input` from `from`, writes `2 × count` to `output` from `to`. */
    run(input: Float64Array, from: number, count: number, output: Float64Array, to: number): void {
      for (let i = 0; i < count; i++) work[history + i] = input[from + i];
      for (let n = 0; n < count; n++) {
        output[to + 2 * n] = 0;
        output[to + 2 * n + 1] = work[right + n];
      }
      addPairs(work, doubled, pairs, count, output, to, 2);
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
