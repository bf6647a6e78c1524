import { type PartialFrames, frameAmplitudes } from './partialFrames';
import { type SourcePart, fitSources } from './plainSources';

/** How strong one plain waveform is over time. */
export interface SourceTrack {
  part: SourcePart;
  /** Of its partials together in each frame; 0 where it is too soft to be told. */
  amplitudes: Float64Array;
}

export interface SourceTracks {
  /** Middle of each frame, seconds from the start of the signal. */
  seconds: Float64Array;
  tracks: SourceTrack[];
  /** What they leave of the frames' partials, dB, weighted by power. */
  errorDb: number;
}

/** Softer partials of a frame, against the strongest of all, say nothing. */
const FLOOR = 10 ** (-50 / 20);
const UPDATES = 40;

/**
 * Plain waveforms that add up to the partials, each as loud as it ever gets, and how strong each of them is
 * in every frame: gains by multiplicative updates for the Itakura-Saito divergence (Févotte, Bertin & Durrieu
 * 2009), the waveforms themselves standing still. Undefined where one waveform says it all, or none.
 *
 * @param fromSeconds frames before it reach back over the onset
 */
export function trackSources(frames: PartialFrames, fromSeconds: number, toSeconds: number): SourceTracks | undefined {
  const there = [...frames.seconds.keys()].filter(
    (t) => frames.seconds[t] >= fromSeconds && frames.seconds[t] <= toSeconds,
  );
  if (there.length < 4) return undefined;
  const loudest = new Float64Array(frames.count);
  for (const t of there) frameAmplitudes(frames, t).forEach((a, n) => (loudest[n] = Math.max(loudest[n], a)));
  const top = loudest.reduce((most, a) => Math.max(most, a), 0);
  if (top === 0) return undefined;
  const fitted = fitSources(Array.from(loudest, (a) => 20 * Math.log10(a / top + 1e-9)));
  if (!fitted || fitted.parts.length < 2) return undefined;
  const { parts } = fitted;
  const gains = there.map((t) => gainsOf(frameAmplitudes(frames, t), parts, FLOOR * top));
  const strength = parts.map(({ powers }) => powers.reduce((sum, p) => sum + p, 0));
  const heard = (amplitude: number) => (amplitude > FLOOR * top ? amplitude : 0);
  return {
    seconds: Float64Array.from(there, (t) => frames.seconds[t]),
    tracks: parts.map((part, k) => ({
      part,
      amplitudes: Float64Array.from(gains, (own) => heard(Math.sqrt(own[k] * strength[k]))),
    })),
    errorDb: errorOf(
      there.map((t) => frameAmplitudes(frames, t)),
      parts,
      gains,
      FLOOR * top,
    ),
  };
}

/** Power of each part in one frame, as a multiple of what it has in `parts`. */
function gainsOf(amplitudes: Float64Array, parts: readonly SourcePart[], floor: number): Float64Array {
  const count = parts[0].powers.length;
  const heard = Float64Array.from({ length: count }, (_, n) => (amplitudes[n] ?? 0) ** 2 + floor * floor);
  const gains = new Float64Array(parts.length).fill(heard.reduce((sum, p) => sum + p, 0));
  for (let update = 0; update < UPDATES; update++) {
    const model = modelOf(parts, gains, floor);
    parts.forEach(({ powers }, k) => {
      let [up, down] = [0, 0];
      for (let n = 0; n < count; n++) {
        // As loud as they are: what stands on the floor says little of what is under it.
        const weight = Math.sqrt(heard[n]) * powers[n];
        up += (weight * heard[n]) / (model[n] * model[n]);
        down += weight / model[n];
      }
      if (down > 0) gains[k] *= up / down;
    });
  }
  return gains;
}

function modelOf(parts: readonly SourcePart[], gains: Float64Array, floor: number): Float64Array {
  const model = new Float64Array(parts[0].powers.length).fill(floor * floor);
  parts.forEach(({ powers }, k) => {
    for (let n = 0; n < model.length; n++) model[n] += gains[k] * powers[n];
  });
  return model;
}

function errorOf(
  frames: readonly Float64Array[],
  parts: readonly SourcePart[],
  gains: readonly Float64Array[],
  floor: number,
): number {
  let [sum, all] = [0, 0];
  frames.forEach((amplitudes, t) => {
    modelOf(parts, gains[t], floor).forEach((power, n) => {
      const heard = (amplitudes[n] ?? 0) ** 2 + floor * floor;
      const off = 10 * Math.log10(heard / power);
      sum += Math.sqrt(heard) * off * off;
      all += Math.sqrt(heard);
    });
  });
  return Math.sqrt(sum / all);
}
