import { partialMagnitudes } from '../../dsp/harmonics';

const LOOKED_PARTIALS = 8;
const FIRST_SHARE = 0.03;

/** Whether the first or the second of the partials is there: of a chord's common period neither is. */
export function hasFirstPartials(held: Float64Array, sampleRateHz: number, f0Hz: number): boolean {
  const omega = (2 * Math.PI * f0Hz) / sampleRateHz;
  const levels = partialMagnitudes(held, 0, held.length, omega, LOOKED_PARTIALS);
  return Math.max(levels[0], levels[1]) > FIRST_SHARE * Math.max(...levels);
}
