import { bessel0 } from './halfband';
import { kernel, kernelNumbers } from './kernel/kernel';

const TAPS = kernel.TAPS.value;
const PHASES = kernel.PHASES.value;
const MOST_SAMPLES = kernel.MOST_SAMPLES.value;
const MOST_VALUES = kernel.MOST_VALUES.value;
const KAISER_BETA = 9;
const tables = new Map<number, Float64Array>();
/** The kernel's memory, and which table is in it. */
const sincs = kernelNumbers('sincs', TAPS * (PHASES + 1));
const samples = kernelNumbers('samples', MOST_SAMPLES);
const values = kernelNumbers('values', MOST_VALUES);
let loaded: Float64Array | undefined;

/**
 * Reads a signal between its samples by windowed-sinc interpolation (Smith, "Digital Audio Resampling"):
 * Kaiser window, 32 taps, stop band under −90 dB. Samples outside the signal count as zero.
 *
 * @param signal samples to read from
 * @param position where to read, in samples; fractions allowed
 * @param cutoff pass-band edge as a fraction of the signal's own Nyquist frequency; below 1 when the
 *   positions are further than one sample apart
 */
export const readSinc = (signal: ArrayLike<number>, position: number, cutoff = 1): number =>
  readWith(tableFor(cutoff), signal, position);

/**
 * Reads a signal at even distances, as `readSinc` does: `count` values from position `from` on, `step`
 * samples apart.
 */
export function readEvenly(signal: ArrayLike<number>, step: number, count: number, from = 0): Float64Array {
  const table = tableFor(Math.min(1, 1 / step));
  if (loaded !== table) sincs.set(table);
  loaded = table;
  const read = new Float64Array(count);
  const most = Math.max(1, Math.min(MOST_VALUES, Math.floor((MOST_SAMPLES - TAPS - 2) / step)));
  for (let done = 0; done < count; done += most) {
    const position = from + done * step;
    const first = Math.floor(position) - TAPS / 2;
    const now = Math.min(most, count - done);
    const length = Math.min(MOST_SAMPLES, Math.ceil(now * step) + TAPS + 2);
    for (let i = 0; i < length; i++) {
      const at = first + i;
      samples[i] = at >= 0 && at < signal.length ? signal[at] : 0;
    }
    kernel.readBetween(now, position - first, step);
    read.set(values.subarray(0, now), done);
  }
  return read;
}

/** Resamples a whole signal to `rateRatio` times its rate (output rate over input rate). */
export const resample = (signal: ArrayLike<number>, rateRatio: number): Float64Array =>
  rateRatio === 0.5
    ? halve(signal)
    : readEvenly(signal, 1 / rateRatio, Math.max(1, Math.round(signal.length * rateRatio)));

/**
 * As `readEvenly` at every second sample, where all taps at an even distance from the middle one are zero.
 */
function halve(signal: ArrayLike<number>): Float64Array {
  const table = tableFor(0.5);
  const middle = TAPS / 2 - 1;
  const halved = new Float64Array(Math.max(1, Math.round(signal.length / 2)));
  const inside = Math.floor((signal.length - TAPS) / 2);
  for (let i = 0; i < halved.length; i++) {
    if (2 * i < TAPS || i > inside) {
      halved[i] = readWith(table, signal, 2 * i);
      continue;
    }
    let sum = signal[2 * i] * table[middle];
    for (let n = 1; n <= middle; n += 2) sum += (signal[2 * i - n] + signal[2 * i + n]) * table[middle + n];
    halved[i] = sum;
  }
  return halved;
}

function readWith(table: Float64Array, signal: ArrayLike<number>, position: number): number {
  const whole = Math.floor(position);
  const between = (position - whole) * PHASES;
  const phase = Math.min(PHASES - 1, Math.floor(between));
  // Straight lines between the stored phases: their error is under that of the window.
  const share = between - phase;
  const first = whole - TAPS / 2 + 1;
  const from = Math.max(0, -first);
  const to = Math.min(TAPS, signal.length - first);
  let before = 0;
  if (share === 0) {
    for (let tap = from, k = phase * TAPS + from; tap < to; tap++, k++) before += signal[first + tap] * table[k];
    return before;
  }
  let after = 0;
  for (let tap = from, k = phase * TAPS + from; tap < to; tap++, k++) {
    before += signal[first + tap] * table[k];
    after += signal[first + tap] * table[k + TAPS];
  }
  return before + share * (after - before);
}

function tableFor(cutoff: number): Float64Array {
  const key = Math.round(cutoff * 256) / 256;
  let table = tables.get(key);
  if (!table) {
    table = new Float64Array((PHASES + 1) * TAPS);
    for (let phase = 0; phase <= PHASES; phase++) {
      let sum = 0;
      for (let tap = 0; tap < TAPS; tap++) {
        const x = tap - TAPS / 2 + 1 - phase / PHASES;
        const value = key * sinc(key * x) * kaiser(x / (TAPS / 2));
        table[phase * TAPS + tap] = value;
        sum += value;
      }
      for (let tap = 0; tap < TAPS; tap++) table[phase * TAPS + tap] /= sum;
    }
    tables.set(key, table);
  }
  return table;
}

const sinc = (x: number) => (Math.abs(x) < 1e-12 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
const kaiser = (x: number) =>
  Math.abs(x) > 1 ? 0 : bessel0(KAISER_BETA * Math.sqrt(1 - x * x)) / bessel0(KAISER_BETA);
