import { kernel, kernelNumbers } from './kernel/kernel';

/**
 * Half-band filters for changing the rate by two and by four: linear phase, Kaiser window, every second tap
 * but the middle one zero (Crochiere & Rabiner, Multirate Digital Signal Processing, 1983; design formula:
 * Kaiser 1974). They are designed here and run by the kernel.
 */
/** Taps at odd distances from the middle one, which is 1/2, outwards. */
function designHalfBand(reach: number, beta: number): Float64Array {
  const taps = new Float64Array((reach + 1) / 2);
  let sum = 0;
  taps.forEach((_, j) => {
    const n = 2 * j + 1;
    const window = bessel0(beta * Math.sqrt(1 - (n / (reach + 1)) ** 2)) / bessel0(beta);
    taps[j] = (Math.sin((Math.PI * n) / 2) / (Math.PI * n)) * window;
    sum += taps[j];
  });
  // The two halves together pass a constant unchanged: 0.5 + 2·Σ = 1.
  return taps.map((tap) => (tap * 0.25) / sum);
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

/**
 * Windowed-sinc low-pass; `edge` is its −6 dB point as a fraction of the (higher) rate. Taps from the middle
 * outwards.
 */
function designLowpass(reach: number, beta: number, edge: number): Float64Array {
  const taps = new Float64Array(reach + 1);
  let sum = 0;
  taps.forEach((_, n) => {
    const window = bessel0(beta * Math.sqrt(1 - (n / (reach + 1)) ** 2)) / bessel0(beta);
    taps[n] = window * (n === 0 ? 2 * edge : Math.sin(2 * Math.PI * edge * n) / (Math.PI * n));
    sum += n === 0 ? taps[n] : 2 * taps[n];
  });
  return taps.map((tap) => tap / sum);
}

const INNER_REACH = kernel.INNER_REACH.value;
const OUTER_REACH = kernel.OUTER_REACH.value;
const LAST_REACH = kernel.LAST_REACH.value;
const setTaps = (place: 'innerTaps' | 'outerTaps' | 'lastTaps', taps: Float64Array) =>
  kernelNumbers(place, taps.length).set(taps);

/**
 * Above 2×: passes a quarter of the band, so it may be short. Stop band under −120 dB from 0.375 of the rate
 * up: what is left of images is lifted by a drive, and turns the phase of a curve that folds.
 */
setTaps('outerTaps', designHalfBand(OUTER_REACH, 12.3));
/** From 1× to 2×: flat to 18 kHz at 44.1 kHz, under −120 dB from 26 kHz on. */
setTaps('innerTaps', designHalfBand(INNER_REACH, 12.3));
/**
 * The last step down: a half-band filter would leave −6 dB at the Nyquist frequency, and partials just above
 * it would come back just below. This one is flat to 0.42 of the rate (18.7 kHz at 44.1 kHz) and under −70 dB
 * from 0.5 on.
 */
setTaps('lastTaps', designLowpass(LAST_REACH, 6.6, 0.2305));

export const OVERSAMPLING = 4;
/** Delays of going up to 4× and down from it, in samples at 1×. */
export const INTERPOLATOR_LATENCY = kernel.INTERPOLATOR_LATENCY.value;
export const DECIMATOR_LATENCY = kernel.DECIMATOR_LATENCY.value;

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

const plain = kernelNumbers('plain', kernel.MOST.value);
const fine = kernelNumbers('fine', OVERSAMPLING * kernel.MOST.value);
const decimatorState = kernelNumbers('state', kernel.DECIMATOR_STATE.value);
const interpolatorState = kernelNumbers('state', kernel.INTERPOLATOR_STATE.value);

/** Goes from four times the rate down to it. The delay is DECIMATOR_LATENCY samples. */
export interface Decimator {
  clear(): void;
  /**
   * Reads `4 × count` samples of `input` from `4 × from`, adds `count`, at most 128, to `output` from `from`.
   */
  add(input: Float64Array, output: Float64Array, from: number, to: number): void;
}

export function createDecimator(): Decimator {
  const past = new Float64Array(decimatorState.length);
  return {
    clear: () => void past.fill(0),
    add(input, output, from, to) {
      const count = to - from;
      for (let i = 0, at = OVERSAMPLING * from; i < OVERSAMPLING * count; i++) fine[i] = input[at + i];
      decimatorState.set(past);
      kernel.decimate(count);
      past.set(decimatorState);
      for (let i = 0; i < count; i++) output[from + i] += plain[i];
    },
  };
}

/** Goes up to four times the rate. The delay is INTERPOLATOR_LATENCY samples of the lower rate. */
export interface Interpolator {
  clear(): void;
  /** Reads `input[from..to)`, at most 128 samples, writes `4 × count` samples to `output` from `4 × from`. */
  run(input: Float64Array, output: Float64Array, from: number, to: number): void;
}

export function createInterpolator(): Interpolator {
  const past = new Float64Array(interpolatorState.length);
  return {
    clear: () => void past.fill(0),
    run(input, output, from, to) {
      const count = to - from;
      for (let i = 0; i < count; i++) plain[i] = input[from + i];
      interpolatorState.set(past);
      kernel.interpolate(count);
      past.set(interpolatorState);
      for (let i = 0, at = OVERSAMPLING * from; i < OVERSAMPLING * count; i++) output[at + i] = fine[i];
    },
  };
}
