import { rounded } from '../documentParts';
import { type FittedContour, soundingSpan } from '../level/fittedContour';
import { strongest } from '../spectra/filterTrack';
import { type PartialFrames, frameAmplitudes } from './partialFrames';

/** Levels of the partials over the sounding part, dB against the strongest. */
export function averageLevelsDb(frames: PartialFrames, fitted: FittedContour): number[] {
  const [from, to] = soundingSpan(fitted, Infinity);
  const power = new Float64Array(frames.count);
  // A frame that reaches over an edge leaks between its partials; it is left out where there are enough
  // others.
  const reach = 2 / frames.f0Hz;
  const end = Math.min(to, frames.seconds[frames.seconds.length - 1]);
  const inner = end - from > 6 * reach ? reach : 0;
  frames.seconds.forEach((seconds, t) => {
    if (seconds < from + inner || seconds > end - inner) return;
    frameAmplitudes(frames, t).forEach((amplitude, i) => (power[i] += amplitude * amplitude));
  });
  const top = strongest(power);
  return Array.from(power, (p) => rounded(Math.max(-120, 10 * Math.log10(p / top + 1e-12)), 5));
}
