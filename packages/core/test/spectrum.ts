import { fftOfSize } from '../src/dsp/fft';

const SIZE = 32768;
/** Bins to each side that belong to a line under the window. */
const LINE_BINS = 6;

/** Power spectrum under a Blackman-Harris window (side lobes under −92 dB), from sample 4000 on. */
export function powerSpectrum(signal: ArrayLike<number>): Float64Array {
  const real = new Float64Array(SIZE);
  const imaginary = new Float64Array(SIZE);
  for (let i = 0; i < SIZE; i++) {
    const x = (2 * Math.PI * i) / SIZE;
    real[i] =
      signal[4000 + i] * (0.35875 - 0.48829 * Math.cos(x) + 0.14128 * Math.cos(2 * x) - 0.01168 * Math.cos(3 * x));
  }
  fftOfSize(SIZE).forward(real, imaginary);
  return Float64Array.from({ length: SIZE / 2 }, (_, k) => real[k] ** 2 + imaginary[k] ** 2);
}

/**
 * Strongest line that is no multiple of `hz`, dB under the strongest that is (or under the fundamental).
 * Välimäki & Huovilainen 2007 measure aliasing so.
 */
export function aliasDb(
  signal: ArrayLike<number>,
  hz: number,
  sampleRateHz: number,
  against: 'fundamental' | 'strongest' = 'fundamental',
): number {
  const power = powerSpectrum(signal);
  const binHz = sampleRateHz / SIZE;
  let reference = 0;
  let stray = 0;
  for (let k = LINE_BINS + 2; k < power.length; k++) {
    const n = Math.max(1, Math.round((k * binHz) / hz));
    const isPartial = Math.abs(k * binHz - n * hz) < LINE_BINS * binHz && n * hz < sampleRateHz / 2;
    if (!isPartial) stray = Math.max(stray, power[k]);
    else if (n === 1 || against === 'strongest') reference = Math.max(reference, power[k]);
  }
  return 10 * Math.log10(stray / reference);
}
