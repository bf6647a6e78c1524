import type { PartialFrames } from '../partials/partialFrames';
import type { LevelContour } from './levelContour';

/** Partials so far under the strongest, on the average, are not counted. */
const LEAST_SHARE = 0.01;

/**
 * The level of a tone whose voices beat: partials beat at rates of their own, so the mean of their powers,
 * each against its own over the whole and weighted by amplitude, strays by a fraction of what the power of
 * the sum does (which is that of the first few), while what all have in common (rise, fall, end) stays.
 *
 * @returns a contour with the hop of the one that is given
 */
export function evenedLevel(level: LevelContour, frames: PartialFrames): LevelContour {
  const { seconds, amplitudes, count, periods, f0Hz } = frames;
  const powers = new Float64Array(count);
  for (let i = 0; i < amplitudes.length; i++) powers[i % count] += amplitudes[i] ** 2 / seconds.length;
  const weights = powers.map(Math.sqrt);
  const least = LEAST_SHARE * weights.reduce((a, b) => Math.max(a, b), 0);
  const even = Float64Array.from(seconds, (_, t) => {
    let sum = 0;
    for (let k = 0; k < count; k++)
      if (weights[k] > least) sum += (weights[k] * amplitudes[t * count + k] ** 2) / powers[k];
    return Math.sqrt(sum);
  });
  const rms = level.rms.map((_, i) => valueAt(seconds, even, i * level.hopSeconds));
  const power = (values: Float64Array) => values.reduce((sum, value) => sum + value * value, 1e-30);
  const gain = Math.sqrt(power(level.rms) / power(rms));
  return {
    hopSeconds: level.hopSeconds,
    windowSeconds: Math.max(level.windowSeconds, periods / f0Hz),
    rms: rms.map((value) => gain * value),
  };
}

/** The level of a tone as it was before something took parts of its partials away, by frames of both. */
export function restoredLevel(level: LevelContour, heard: PartialFrames, restored: PartialFrames): LevelContour {
  const powerAt = ({ amplitudes, count }: PartialFrames, t: number) =>
    amplitudes.subarray(t * count, (t + 1) * count).reduce((sum, amplitude) => sum + amplitude * amplitude, 1e-12);
  const gains = Float64Array.from(heard.seconds, (_, t) => Math.sqrt(powerAt(restored, t) / powerAt(heard, t)));
  return { ...level, rms: level.rms.map((rms, i) => rms * valueAt(heard.seconds, gains, i * level.hopSeconds)) };
}

/** In straight lines between frames; the first and the last reach to the ends. */
function valueAt(seconds: Float64Array, values: Float64Array, at: number): number {
  const hop = seconds.length > 1 ? seconds[1] - seconds[0] : 1;
  const place = Math.min(seconds.length - 1, Math.max(0, (at - seconds[0]) / hop));
  const before = Math.floor(place);
  const after = Math.min(seconds.length - 1, before + 1);
  return values[before] + (place - before) * (values[after] - values[before]);
}
