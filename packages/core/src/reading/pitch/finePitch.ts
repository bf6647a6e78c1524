import { centsBetween } from '../../dsp/pitch';
import { type PartialEnvelopes, measureEnvelopes } from '../partials/partialEnvelopes';
import type { PitchTrack } from './pitchTrack';

/** Deviation of the pitch from a fundamental over time, from the phases of its partials. */
export interface FinePitch {
  seconds: Float64Array;
  /** NaN where the partials say nothing, or not the same. */
  cents: Float64Array;
  /** What each partial that counts says by itself; NaN where it is too soft. */
  partialCents: Float64Array[];
  windowSeconds: number;
}

const HOP_SECONDS = 0.005;
const PERIODS = 3;
const MIN_WINDOW_SECONDS = 0.012;
const PARTIALS = 6;
/** Frames this far under the loudest say nothing. */
const LEAST_SHARE = 0.01;
/** Nor do partials this far under the strongest. */
const LEAST_PARTIAL_SHARE = 1e-3;

/**
 * Pitch over time, finer than frames that hold several periods of the lowest tone there is: the signal is
 * turned down by the coarse track's own phase, what is left of each partial's phase moves slowly, and its
 * steps are the track's error. Partials are weighted by their power times their number squared (Rife &
 * Boorstyn 1974).
 *
 * @param periods of the fundamental in a window; from 2 on partials do not leak into one another
 */
export function trackFinePitch(
  signal: Float64Array,
  sampleRateHz: number,
  track: PitchTrack,
  f0Hz: number,
  periods = PERIODS,
): FinePitch {
  const hzAt = followingTrack(withoutLeaps(track, f0Hz), f0Hz);
  const { partials, seconds, hopSeconds, windowSeconds } = measureEnvelopes(signal, sampleRateHz, f0Hz, {
    mostPartials: PARTIALS,
    f0At: hzAt,
    windowSeconds: Math.max(MIN_WINDOW_SECONDS, periods / f0Hz),
    hopSeconds: HOP_SECONDS,
  });
  const power = seconds.map((_, frame) =>
    partials.reduce((sum, { re, im }) => sum + re[frame] ** 2 + im[frame] ** 2, 0),
  );
  const loudest = power.reduce((a, b) => Math.max(a, b), 0);
  const between = seconds.subarray(0, Math.max(0, seconds.length - 1)).map((at) => at + hopSeconds / 2);
  const centsAt = (frame: number, offsetHz: number) => {
    const hz = hzAt(between[frame]) + offsetHz;
    return hz > 0 ? 1200 * Math.log2(hz / f0Hz) : NaN;
  };
  const steps = partials.map((partial) => phaseSteps(partial, hopSeconds));
  const offsets = between.map((_, frame) => pitchStep(steps, frame, hopSeconds));
  const tops = steps.map(({ sizes }) => sizes.reduce((a, b) => Math.max(a, b), 0));
  const strongest = Math.max(...tops);
  const partialCents = [...steps.keys()]
    .filter((n) => tops[n] > LEAST_PARTIAL_SHARE * strongest)
    .map((n) =>
      steps[n].sizes.map((size, frame) =>
        size > LEAST_SHARE * tops[n] ? centsAt(frame, steps[n].offsetsHz[frame] / (n + 1)) : NaN,
      ),
    );
  const cents = between.map((_, frame) => {
    if (power[frame] < LEAST_SHARE * loudest || power[frame + 1] < LEAST_SHARE * loudest) return NaN;
    return centsAt(frame, offsets[frame]);
  });
  return { seconds: between, cents, partialCents, windowSeconds };
}

/** Of each step from frame to frame, how far a partial is from where it was looked for, and its power. */
interface PhaseSteps {
  sizes: Float64Array;
  offsetsHz: Float64Array;
}

/** What lower partials say has to be this much of all to tell how often a higher one has gone round. */
const TELLING_SHARE = 0.01;

/**
 * How far all partials of a frame are from where the fundamental was looked for, Hz. Steps of a partial are
 * known but for whole turns, which those of the partials under it tell; they are put right.
 */
function pitchStep(steps: readonly PhaseSteps[], frame: number, hopSeconds: number): number {
  const whole = steps.reduce((sum, { sizes }, n) => sum + sizes[frame] * (n + 1) ** 2, 0);
  let offset = 0;
  let weight = 0;
  steps.forEach(({ sizes, offsetsHz }, n) => {
    const told = weight > TELLING_SHARE * whole ? offset / weight : 0;
    offsetsHz[frame] += Math.round(((n + 1) * told - offsetsHz[frame]) * hopSeconds) / hopSeconds;
    offset += sizes[frame] * (n + 1) * offsetsHz[frame];
    weight += sizes[frame] * (n + 1) ** 2;
  });
  return offset / weight;
}

function phaseSteps({ re, im }: PartialEnvelopes['partials'][number], hopSeconds: number): PhaseSteps {
  const count = Math.max(0, re.length - 1);
  const sizes = new Float64Array(count);
  const offsetsHz = new Float64Array(count);
  for (let frame = 0; frame < count; frame++) {
    const a = re[frame] * re[frame + 1] + im[frame] * im[frame + 1];
    const b = re[frame] * im[frame + 1] - im[frame] * re[frame + 1];
    sizes[frame] = Math.sqrt(a * a + b * b);
    offsetsHz[frame] = Math.atan2(b, a) / (2 * Math.PI * hopSeconds);
  }
  return { sizes, offsetsHz };
}

/** From frame to frame a pitch that slides goes less far, one that is told another octave goes further. */
const LEAP_CENTS = 300;
/** As near as an octave, a twelfth or two octaves are told. */
const SAME_CENTS = 60;
const MOST_TIMES = 4;

/**
 * The track without stretches that stand a whole number of times over or under the fundamental and that it
 * leaps to and from: the same pitch, of which other partials were the louder ones there.
 */
function withoutLeaps(track: PitchTrack, f0Hz: number): PitchTrack {
  const hz = track.f0Hz.slice();
  const clear = [...hz.keys()].filter((i) => Number.isFinite(hz[i]));
  const leaps = (k: number) => Math.abs(centsBetween(hz[clear[k - 1]], hz[clear[k]])) > LEAP_CENTS;
  for (let from = 0, to = 1; from < clear.length; from = to++) {
    while (to < clear.length && !leaps(to)) to++;
    const stretch = clear.slice(from, to);
    const ratio = f0Hz / hz[stretch[0]];
    const times = ratio > 1 ? Math.round(ratio) : 1 / Math.round(1 / ratio);
    const stays = stretch.every((i) => Math.abs(centsBetween(f0Hz, times * hz[i])) < SAME_CENTS);
    if (stays && times <= MOST_TIMES && times >= 1 / MOST_TIMES) for (const i of stretch) hz[i] *= times;
  }
  return { ...track, f0Hz: hz };
}

/**
 * Follows the clear frames of a track near the fundamental, straight lines between them; to be asked in order
 * of time.
 */
function followingTrack(track: PitchTrack, f0Hz: number): (seconds: number) => number {
  const near = [...track.f0Hz.keys()].filter(
    (i) => track.clarity[i] > 0.5 && Math.abs(Math.log2(track.f0Hz[i] / f0Hz)) < 1,
  );
  let k = 0;
  return (seconds) => {
    if (near.length === 0) return f0Hz;
    if (k > 0 && track.seconds[near[k - 1]] > seconds) k = 0;
    while (k < near.length && track.seconds[near[k]] <= seconds) k++;
    if (k === 0) return track.f0Hz[near[0]];
    if (k === near.length) return track.f0Hz[near[k - 1]];
    const [before, after] = [near[k - 1], near[k]];
    const along = (seconds - track.seconds[before]) / (track.seconds[after] - track.seconds[before]);
    return track.f0Hz[before] + along * (track.f0Hz[after] - track.f0Hz[before]);
  };
}
