import type { DelayLine } from '../chain/delayLine';
import { BLOCK_SAMPLES } from '../../sources/source';

/**
 * When the first reflection comes at full size, seconds: a way that is 0.7 m longer. It is the same on both
 * sides.
 */
export const FIRST_REFLECTION_SECONDS = 0.002;
/**
 * When the others come at full size, milliseconds, in the order in which they do; no two a whole multiple of
 * another.
 */
const LATER_MS = [
  [5.3, 8.9, 13.1, 17.0, 21.7, 26.9, 31.3, 37.1, 43.7],
  [4.1, 7.7, 11.3, 15.7, 19.9, 24.3, 29.1, 34.3, 40.9],
];
export const LAST_REFLECTION_SECONDS = 0.05;
/** Signs without a rule, so that no frequency stands out. */
const SIGNS = [
  [1, -1, 1, 1, -1, 1, -1, -1, 1, -1],
  [1, 1, -1, 1, 1, -1, -1, 1, -1, -1],
];

/** The dense part sets in little by little from here on, and the reflections make room for it. */
const DENSE_FROM_SECONDS = 0.018;

/** Share of the whole power that the reflections have so long after the sound, at full size. */
const shareAt = (seconds: number): number =>
  Math.min(1, (LAST_REFLECTION_SECONDS - seconds) / (LAST_REFLECTION_SECONDS - DENSE_FROM_SECONDS));

interface Reflection {
  seconds: number;
  /** Whether it is of the other side's sound. */
  crosses: boolean;
  gain: number;
  /** Where it was read last, samples. */
  distance: number;
}

/**
 * The first reflections of a room, before its echoes are dense: each as loud as the time to the next one
 * weighs at the level at which the dense part sets in, so that the whole dies away in one line.
 */
export function createEarlyReflections(sampleRateHz: number) {
  const sides = LATER_MS.map((later, side) => {
    const times = [FIRST_REFLECTION_SECONDS, ...later.map((ms) => ms / 1000)];
    return times.map((seconds, k): Reflection => {
      const next = times[k + 1] ?? LAST_REFLECTION_SECONDS;
      const gain = SIGNS[side][k] * Math.sqrt((next - seconds) * shareAt(seconds));
      return { seconds, crosses: k % 2 === 1, gain, distance: NaN };
    });
  });

  /**
   * Adds a line, as it was so many samples before, to a signal; where the distance changes, the new one fades
   * in.
   */
  function addFrom(
    line: DelayLine,
    reflection: Reflection,
    distance: number,
    gain: number,
    signal: Float64Array,
  ): void {
    const before = Number.isNaN(reflection.distance) ? distance : reflection.distance;
    reflection.distance = distance;
    line.readBlock(distance + BLOCK_SAMPLES, 0, BLOCK_SAMPLES);
    const { out } = line;
    if (before === distance) {
      for (let i = 0; i < BLOCK_SAMPLES; i++) signal[i] += gain * out[i];
      return;
    }
    for (let i = 0; i < BLOCK_SAMPLES; i++) signal[i] += ((i + 1) / BLOCK_SAMPLES) * gain * out[i];
    line.readBlock(before + BLOCK_SAMPLES, 0, BLOCK_SAMPLES);
    for (let i = 0; i < BLOCK_SAMPLES; i++) signal[i] += (1 - (i + 1) / BLOCK_SAMPLES) * gain * out[i];
  }

  return {
    clear(): void {
      for (const side of sides) for (const reflection of side) reflection.distance = NaN;
    },
    /**
     * Writes the reflections of a block that has been written to `lines`.
     *
     * @param before samples that everything is late by
     * @param size share of the full size
     * @param rt60 seconds in which they fall by 60 dB
     * @param level of the dense part when it sets in: amplitude per square root of a second, at full size
     */
    write(
      lines: readonly DelayLine[],
      left: Float64Array,
      right: Float64Array,
      before: number,
      size: number,
      rt60: number,
      level: number,
    ): void {
      for (let side = 0; side < 2; side++) {
        const signal = side === 0 ? left : right;
        signal.fill(0);
        for (let k = 0; k < sides[side].length; k++) {
          const reflection = sides[side][k];
          const seconds = size * reflection.seconds;
          const gain = level * reflection.gain * 10 ** ((-3 * seconds) / rt60);
          const distance = before + Math.round(seconds * sampleRateHz);
          addFrom(lines[reflection.crosses ? 1 - side : side], reflection, distance, gain, signal);
        }
      }
    },
  };
}
