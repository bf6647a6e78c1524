import { decibelsFromPower } from '../../dsp/decibels';
import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { readSinc } from '../../dsp/sinc';

/** Longest window that still shows single partials of a bass, and what a moment is smeared over. */
const SIZE = 8192;
const POINTS = 420;
const FLOOR_DB = -120;
/** How far from where it should be a partial is looked for, a share of the fundamental. */
const SEARCHED = 0.25;

/** Bandwidth of an auditory filter at a frequency, Hz (Glasberg & Moore 1990). */
export const erbAt = (hz: number) => 24.7 * (4.37e-3 * hz + 1);

/** Frequencies between two, as many as a picture has columns, in even ratios. */
export const hzBetween = (fromHz: number, toHz: number): number[] =>
  Array.from({ length: POINTS }, (_, i) => fromHz * (toHz / fromHz) ** (i / (POINTS - 1)));

/** Reads what a sound is at a moment: cheap enough to follow a pointer. */
export interface MomentReader {
  /**
   * Levels at frequencies in even ratios, dB of a full-scale sine; what lies between them counts for the
   * nearest.
   *
   * @param smooth over an auditory filter's bandwidth, else as they are
   */
  spectrumAt: (seconds: number, atHz: readonly number[], smooth: boolean) => Float64Array;
  /** Levels of the first partials of a fundamental, dB of a full-scale sine. */
  partialsAt: (seconds: number, f0Hz: number, count: number) => Float64Array;
}

export function createMomentReader(mono: ArrayLike<number>, sampleRateHz: number): MomentReader {
  const spectrum = createFrameSpectrum(SIZE);
  const { real, imaginary } = spectrum;
  const power = new Float64Array(SIZE / 2);
  // Sums of power up to each bin, so that a mean over any width is two look-ups.
  const sums = new Float64Array(SIZE / 2 + 1);
  const binHz = sampleRateHz / SIZE;
  const scale = 1 / (SIZE / 4) ** 2;
  let shown = NaN;
  const look = (seconds: number) => {
    if (seconds === shown) return;
    shown = seconds;
    spectrum.transform(mono, Math.round(seconds * sampleRateHz) - SIZE / 2);
    for (let k = 0; k < power.length; k++) {
      power[k] = (real[k] * real[k] + imaginary[k] * imaginary[k]) * scale;
      sums[k + 1] = sums[k] + power[k];
    }
  };
  const loudestBetween = (fromHz: number, toHz: number) => {
    const to = Math.min(power.length - 1, Math.ceil(toHz / binHz));
    let bin = Math.max(0, Math.floor(fromHz / binHz));
    for (let k = bin; k <= to; k++) if (power[k] > power[bin]) bin = k;
    return bin;
  };
  // A window spreads a sine over one and a half bins' worth of power.
  const powerBetween = (from: number, to: number) => (sums[to] - sums[from]) / 1.5;
  /** The loudest bin about a frequency; where bins are wider apart than points, what lies between two. */
  const plainAt = (hz: number, step: number) => {
    if (hz * (step - 1 / step) > binHz) return decibelsFromPower(power[loudestBetween(hz / step, hz * step)], FLOOR_DB);
    const bin = Math.floor(hz / binHz);
    const share = hz / binHz - bin;
    const [below, above] = [power[bin], power[bin + 1]].map((one) => decibelsFromPower(one, FLOOR_DB));
    return below + share * (above - below);
  };
  return {
    spectrumAt(seconds, atHz, smooth) {
      look(seconds);
      const step = atHz.length > 1 ? Math.sqrt(atHz[1] / atHz[0]) : 1;
      return Float64Array.from(atHz, (hz) => {
        if (hz >= sampleRateHz / 2) return FLOOR_DB;
        if (!smooth) return plainAt(hz, step);
        const from = Math.max(0, Math.floor((hz - erbAt(hz) / 2) / binHz));
        const to = Math.min(power.length, Math.max(from + 1, Math.ceil((hz + erbAt(hz) / 2) / binHz)));
        return decibelsFromPower(powerBetween(from, to), FLOOR_DB);
      });
    },
    partialsAt(seconds, f0Hz, count) {
      look(seconds);
      return Float64Array.from({ length: count }, (_, i) => {
        const hz = (i + 1) * f0Hz;
        if (hz >= sampleRateHz / 2) return FLOOR_DB;
        const bin = loudestBetween(hz - SEARCHED * f0Hz, hz + SEARCHED * f0Hz);
        return decibelsFromPower(powerBetween(Math.max(0, bin - 2), Math.min(power.length, bin + 3)), FLOOR_DB);
      });
    },
  };
}

const WAVE_POINTS = 320;
const TRIED_SHIFTS = 64;

/**
 * A few periods of two sounds from a moment on, the second shifted by less than a period so that it lies on
 * the first.
 *
 * @returns as many points of each, evenly over the periods
 */
export function alignedPeriods(
  [a, b]: readonly [ArrayLike<number>, ArrayLike<number>],
  sampleRateHz: number,
  seconds: number,
  f0Hz: number,
  periods: number,
): [Float64Array, Float64Array] {
  const period = sampleRateHz / f0Hz;
  const waveOf = (signal: ArrayLike<number>, from: number) =>
    Float64Array.from({ length: WAVE_POINTS }, (_, i) => {
      const at = from + (i * periods * period) / WAVE_POINTS;
      return at < 0 || at >= signal.length ? 0 : readSinc(signal, at);
    });
  const start = seconds * sampleRateHz;
  const first = waveOf(a, start);
  let best = first;
  let likest = -Infinity;
  for (let i = 0; i < TRIED_SHIFTS; i++) {
    const wave = waveOf(b, start + (i * period) / TRIED_SHIFTS);
    let likeness = 0;
    for (let k = 0; k < WAVE_POINTS; k++) likeness += first[k] * wave[k];
    if (likeness > likest) [likest, best] = [likeness, wave];
  }
  return [first, best];
}
