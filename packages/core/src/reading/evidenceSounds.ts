import { type Audio, toMono } from './audio';
import { type Series, seriesAt } from './documentParts';
import { measureEnvelopes } from './partials/partialEnvelopes';

/** What evidence is made of. */

/** A signal as long as a cut, by its value at each time. */
export const fill = ({ channels, sampleRateHz }: Audio, at: (seconds: number) => number) =>
  Float64Array.from({ length: channels[0].length }, (_, i) => at(i / sampleRateHz));

/** The measured pitch at a time, the last known one where there is none. */
export function pitchAt(contour: Series, f0Hz: number): (seconds: number) => number {
  let last = f0Hz;
  return (seconds) => {
    const hz = seriesAt(contour, seconds);
    // What is far from the fundamental is an octave that a frame took for it.
    if (hz !== null && Math.abs(Math.log2(hz / f0Hz)) < 0.4) last = hz;
    return last;
  };
}

/** Level at a time, straight between the contour's points. */
export function gainAt({ hopSeconds, values }: Series, seconds: number): number {
  const x = seconds / hopSeconds;
  const [a, b] = [values[Math.floor(x)] ?? -120, values[Math.floor(x) + 1] ?? -120].map((db) => 10 ** (db / 20));
  return a + (x - Math.floor(x)) * (b - a);
}

/** White noise that is the same every time (a linear congruential generator; Numerical Recipes). */
export function createNoise(): () => number {
  let state = 1;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2147483648 - 1;
  };
}

/** Partials of a cut alone: what their envelopes hold, turned back to where it came from. */
export function soloPartials(
  audio: Audio,
  f0Hz: number,
  f0At: (seconds: number) => number,
  first: number,
  last: number,
): Float64Array {
  const mono = toMono(audio);
  const { partials, seconds, hopSeconds } = measureEnvelopes(mono, audio.sampleRateHz, f0Hz, {
    mostPartials: last,
    f0At,
  });
  let cycles = 0;
  return mono.map((_, i) => {
    const place = (i / audio.sampleRateHz - (seconds[0] ?? 0)) / hopSeconds;
    const frame = Math.max(0, Math.min(seconds.length - 2, Math.floor(place)));
    const along = Math.max(0, Math.min(1, place - frame));
    const [c1, s1, firstC, firstS] = [1, first].flatMap((n) => [
      Math.cos(2 * Math.PI * n * cycles),
      Math.sin(2 * Math.PI * n * cycles),
    ]);
    cycles += f0At(i / audio.sampleRateHz) / audio.sampleRateHz;
    cycles -= Math.floor(cycles);
    let sum = 0;
    // Multiples of the angle by turning on.
    for (let n = first, c = firstC, s = firstS; n <= Math.min(last, partials.length); n++) {
      const { re, im } = partials[n - 1];
      const a = re[frame] + along * (re[frame + 1] - re[frame]);
      const b = im[frame] + along * (im[frame + 1] - im[frame]);
      sum += a * c - b * s;
      const next = c * c1 - s * s1;
      s = s * c1 + c * s1;
      c = next;
    }
    return sum;
  });
}

/** Largest value of all channels. */
export const peakOf = (channels: readonly Float64Array[]): number =>
  channels.reduce((most, channel) => channel.reduce((a, x) => Math.max(a, Math.abs(x)), most), 0);

/** For how long a part fades in, where it begins within the cut. */
export const FADE_SECONDS = 0.005;
