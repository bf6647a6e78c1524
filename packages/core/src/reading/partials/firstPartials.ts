import { partialMagnitudes } from '../../dsp/harmonics';

const LOOKED_PARTIALS = 8;
/** The notes of a chord lie under this, however low its common period is. */
const LOOKED_HZ = 600;
const FIRST_SHARE = 0.03;

/** Whether the first or the second of the partials is there: of a chord's common period neither is. */
export function hasFirstPartials(held: Float64Array, sampleRateHz: number, f0Hz: number): boolean {
  const omega = (2 * Math.PI * f0Hz) / sampleRateHz;
  const looked = Math.max(LOOKED_PARTIALS, Math.ceil(LOOKED_HZ / f0Hz));
  const levels = partialMagnitudes(held, 0, held.length, omega, looked);
  return Math.max(levels[0], levels[1]) > FIRST_SHARE * Math.max(...levels);
}
