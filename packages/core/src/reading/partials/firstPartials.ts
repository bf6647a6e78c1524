import { steadyPhase, turnDown } from '../../dsp/harmonics';
import { hann } from '../../dsp/windows';

const LOOKED_PARTIALS = 8;
const FIRST_SHARE = 0.03;

/** Whether the first or the second of the partials is there: of a chord's common period neither is. */
export function hasFirstPartials(held: Float64Array, sampleRateHz: number, f0Hz: number): boolean {
  const phase = steadyPhase((2 * Math.PI * f0Hz) / sampleRateHz, held.length);
  const sums = new Float64Array(2 * LOOKED_PARTIALS);
  turnDown(held, 0, hann(held.length), phase, 0, sums);
  const levels = Array.from({ length: LOOKED_PARTIALS }, (_, n) => Math.hypot(sums[2 * n], sums[2 * n + 1]));
  return Math.max(levels[0], levels[1]) > FIRST_SHARE * Math.max(...levels);
}
