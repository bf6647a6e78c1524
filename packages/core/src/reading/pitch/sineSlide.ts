import { nelderMead } from '../../dsp/nelderMead';
import type { PitchSweep } from './pitchMovement';

/** What is fitted: so many periods from the onset, and at least so long. */
const PERIODS = 6;
const LEAST_SECONDS = 0.06;
const MOST_POINTS = 1500;
const FEWEST_POINTS = 64;
const SEMITONES = [-7, -3, 2, 5, 10, 16, 22, 28, 34];
const TIME_CONSTANTS = [0.004, 0.008, 0.016, 0.03];
const FIRST_FALL = 0;
const REFINING = 240;
/** What has to be explained, and how much less than a still sine leaves. */
const LEAST_EXPLAINED = 0.95;
const WORTHWHILE_SHARE = 0.5;
/** What a rise of the level leaves of a still sine is no slide. */
const STILL_EXPLAINED = 0.9;
const LEAST_SEMITONES = 1;
/** Share of a square's power that its first partial has. */
const SINE_OF_SIGNS = 8 / Math.PI ** 2;
const [SHORTEST_SECONDS, LONGEST_SECONDS] = [0.001, 0.06];
const MOST_SEMITONES = 48;

/**
 * A slide at the start of a tone that is one sine, by the wave itself, evened: a pitch that comes to rest
 * along an exponential, under a level that falls along another, is fitted by least squares. So a slide is
 * told that is over within a period or two, of which no frame sees anything (our own method). What a curve
 * has made of a sine crosses zero where that did, so that its signs are fitted in its place.
 *
 * @param f0Hz where the pitch comes to rest
 * @param isBent whether it has odd partials as well
 * @returns undefined where a still sine says as much, or none fits
 */
export function fitSineSlide(
  signal: Float64Array,
  sampleRateHz: number,
  f0Hz: number,
  onsetSeconds: number,
  isBent = false,
): PitchSweep | undefined {
  const first = Math.round(onsetSeconds * sampleRateHz);
  const length = Math.min(signal.length - first, Math.round(Math.max(PERIODS / f0Hz, LEAST_SECONDS) * sampleRateHz));
  const stride = Math.max(1, Math.ceil(length / MOST_POINTS));
  if (length < stride * FEWEST_POINTS) return undefined;
  const even = evened(signal.subarray(first, first + length), sampleRateHz / f0Hz, stride);
  const points = isBent ? even.map(Math.sign) : even;
  const most = isBent ? SINE_OF_SIGNS : 1;
  const step = stride / sampleRateHz;
  const explained = ([semitones, logSeconds, fall]: readonly number[]): number => {
    const seconds = Math.exp(logSeconds);
    const isAllowed = seconds > SHORTEST_SECONDS && seconds < LONGEST_SECONDS && Math.abs(semitones) < MOST_SEMITONES;
    return isAllowed ? shareOfSine(points, step, f0Hz, semitones, seconds, isBent ? 0 : fall) / most : 0;
  };
  const still = explained([0, Math.log(TIME_CONSTANTS[0]), FIRST_FALL]);
  if (still > STILL_EXPLAINED) return undefined;
  let best = { point: [0, 0, 0], share: still };
  for (const semitones of SEMITONES)
    for (const seconds of TIME_CONSTANTS) {
      const point = [semitones, Math.log(seconds), FIRST_FALL];
      const share = explained(point);
      if (share > best.share) best = { point, share };
    }
  if (best.share === still) return undefined;
  const { point, cost } = nelderMead((at) => -explained(at), best.point, [1.5, 0.2, 4], REFINING);
  const [semitones, logSeconds] = point;
  const isClear = -cost > LEAST_EXPLAINED && 1 + cost < WORTHWHILE_SHARE * (1 - still);
  if (!isClear || Math.abs(semitones) < LEAST_SEMITONES) return undefined;
  return { semitones, seconds: Math.LN10 * Math.exp(logSeconds) };
}

/** A wave at the same level all along, every so many samples: by its power within a period around each. */
function evened(wave: Float64Array, periodSamples: number, stride: number): Float64Array {
  const sums = new Float64Array(wave.length + 1);
  for (let i = 0; i < wave.length; i++) sums[i + 1] = sums[i] + wave[i] * wave[i];
  const half = Math.max(1, Math.round(periodSamples / 2));
  return Float64Array.from({ length: Math.floor(wave.length / stride) }, (_, k) => {
    const at = k * stride;
    const [from, to] = [Math.max(0, at - half), Math.min(wave.length, at + half)];
    return wave[at] / Math.sqrt((sums[to] - sums[from]) / (to - from) + 1e-12);
  });
}

/** Share of the power of points, a step apart, that a sine with a slide and a fall of its level explains. */
function shareOfSine(
  points: Float64Array,
  step: number,
  f0Hz: number,
  semitones: number,
  seconds: number,
  fall: number,
): number {
  let [phase, level, left] = [0, 1, semitones / 12];
  const [lower, less] = [Math.exp(-step / seconds), Math.exp(-fall * step)];
  let [ss, sc, cc, xs, xc, xx] = [0, 0, 0, 0, 0, 0];
  for (const x of points) {
    const sine = level * Math.sin(phase);
    const cosine = level * Math.cos(phase);
    ss += sine * sine;
    sc += sine * cosine;
    cc += cosine * cosine;
    xs += x * sine;
    xc += x * cosine;
    xx += x * x;
    const before = left;
    left *= lower;
    phase += 2 * Math.PI * f0Hz * step * 2 ** ((before + left) / 2);
    level *= less;
  }
  const determinant = ss * cc - sc * sc;
  if (!(determinant > 0) || !(xx > 0)) return 0;
  return (xs * (xs * cc - xc * sc) + xc * (xc * ss - xs * sc)) / determinant / xx;
}
