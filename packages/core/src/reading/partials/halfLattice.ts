import { decibelsFromPower } from '../../dsp/decibels';
import { measurePartials } from './partialFrames';

const FRAMES = 24;
/**
 * The lowest line under a fundamental has to be so loud against the strongest partial, and over what is
 * around.
 */
const LEAST_DB = -36;
const CLEAR_DB = 14;
/** The odd one that a sub, even a triangle, has hardly any of. */
const OTHER_PARTIAL = 5;
const LOWEST_HZ = 18;

/**
 * Levels of a tone's partials at every half of its fundamental, where there is one: a sub an octave lower
 * whose period is the tone's second. Undefined where nothing stands at the half.
 *
 * @returns dB relative to the strongest, from the half of the fundamental on
 */
export function halfLatticeLevels(
  signal: Float64Array,
  sampleRateHz: number,
  f0Hz: number,
  [fromSeconds, toSeconds]: readonly [number, number],
): number[] | undefined {
  if (f0Hz / 2 < LOWEST_HZ) return undefined;
  const held = signal.subarray(Math.round(fromSeconds * sampleRateHz), Math.round(toSeconds * sampleRateHz));
  const hop = Math.max(held.length / sampleRateHz / FRAMES, 2 / f0Hz);
  if (held.length < (10 * sampleRateHz) / f0Hz) return undefined;
  const frames = measurePartials(held, sampleRateHz, () => f0Hz / 2, hop);
  const { count, amplitudes } = frames;
  const powers = new Float64Array(count);
  for (let t = 0; t < frames.seconds.length; t++) {
    for (let n = 0; n < count; n++) powers[n] += amplitudes[t * count + n] ** 2;
  }
  const top = Math.max(...powers);
  const level = (power: number) => decibelsFromPower(power / top, -120);
  const half = level(powers[0]);
  // Others between the partials belong to voices, noise or another note, not to a sub.
  const higher = count >= OTHER_PARTIAL ? level(powers[OTHER_PARTIAL - 1]) : -120;
  if (half < LEAST_DB || half < higher + CLEAR_DB) return undefined;
  return Array.from(powers, level);
}
