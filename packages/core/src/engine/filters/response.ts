import { fftOfSize } from '../../dsp/fft';
import { parametersOf } from '../../parameters/table';
import type { Filter } from '../../patch/schema';
import { type FilterProgram, MAX_COEFFICIENTS } from './filter';
import { filterModels } from './index';

export const RESPONSE_SAMPLES = 16384;
const POINTS = 240;
const LOWEST_HZ = 20;
const HIGHEST_HZ = 20000;
/** Quiet enough for the drive of a ladder to see a small signal. */
const IMPULSE = 1e-3;
const FLOOR_DB = -120;

/**
 * Gain over frequency of a filter at rest, on a log scale from 20 Hz to 20 kHz: the transform of what it
 * makes of an impulse.
 */
export function filterResponse(filter: Filter, sampleRateHz: number): { hz: number; db: number }[] {
  const names = Object.keys(parametersOf(filter.kind));
  const program: FilterProgram = { spec: filter, slots: Object.fromEntries(names.map((name, i) => [name, i])) };
  const values = Float64Array.from(names, (name) => (filter as unknown as Record<string, number>)[name]);
  const coefficients = new Float64Array(MAX_COEFFICIENTS);
  const model = filterModels[filter.kind];
  const cutoffHz = 'cutoffHz' in filter ? filter.cutoffHz : 0;
  model.tune(program, values, { cutoffHz, sampleRateHz }, coefficients);
  const real = new Float64Array(RESPONSE_SAMPLES);
  real[0] = IMPULSE;
  model
    .createChannel(sampleRateHz)
    .run(program, real, 0, RESPONSE_SAMPLES, coefficients, new Float64Array(MAX_COEFFICIENTS), false);
  const mix = filter.mix / 100;
  for (let i = 0; i < RESPONSE_SAMPLES; i++) real[i] *= mix;
  real[0] += (1 - mix) * IMPULSE;
  return gainsOf(real, IMPULSE, sampleRateHz);
}

/**
 * Gain over frequency of what became of an impulse, of `RESPONSE_SAMPLES`. Peaks and notches between the
 * points are not missed.
 */
export function gainsOf(response: Float64Array, impulse: number, sampleRateHz: number): { hz: number; db: number }[] {
  const real = response.slice();
  const imaginary = new Float64Array(RESPONSE_SAMPLES);
  fftOfSize(RESPONSE_SAMPLES).forward(real, imaginary);
  const highest = Math.min(HIGHEST_HZ, 0.49 * sampleRateHz);
  const gain = (n: number) => Math.hypot(real[n], imaginary[n]) / impulse;
  const binOf = (i: number) =>
    (LOWEST_HZ * (highest / LOWEST_HZ) ** (i / (POINTS - 1)) * RESPONSE_SAMPLES) / sampleRateHz;
  return Array.from({ length: POINTS }, (_, i) => {
    const at = binOf(i);
    const k = Math.floor(at);
    const from = Math.ceil(binOf(i - 0.5));
    const to = Math.floor(binOf(i + 0.5));
    const near = Array.from({ length: Math.max(0, to - from + 1) }, (_, n) => gain(from + n));
    const straight = gain(k) + (at - k) * (gain(k + 1) - gain(k));
    const peak = Math.max(...near);
    const notch = Math.min(...near);
    const isWithin = (extreme: number) => near.indexOf(extreme) > 0 && near.indexOf(extreme) < near.length - 1;
    const extreme = isWithin(peak) ? peak : isWithin(notch) ? notch : straight;
    return {
      hz: (at * sampleRateHz) / RESPONSE_SAMPLES,
      db: Math.max(FLOOR_DB, 20 * Math.log10(extreme + 1e-9)),
    };
  });
}
