import { type PartialFrames, measurePartials } from '../partials/partialFrames';
import { median } from '../statistics';

/** Noise that is weaker than this against the tone is no more than what lines leak. */
const LEAST_DB = -50;
const ATTACK_SECONDS = 0.06;
/**
 * Mean of an exponential distribution, which the power of noise has, over its median: a median is deaf to
 * single leaks.
 */
const MEAN_OVER_MEDIAN = 1 / Math.log(2);

/**
 * Periods in a frame, most first, and how far each can be believed: beating and movement leak into short
 * ones.
 */
const FRAMES = [
  { periods: 16, trust: 0.9 },
  { periods: 8, trust: 0.7 },
  { periods: 4, trust: 0.3 },
] as const;
const LONGEST_FRAME_SECONDS = 0.5;
/** What short frames, or frames of what moves, show of softer noise may be leaks. */
const DOUBTFUL_DB = -34;
/** So many frames tell a median. */
const FRAME_COUNT = 12;
/** A leak gets this much less from frames of twice the length, noise does not. */
const LEAK_DB = 4;

/**
 * Detuned voices and what moves stand everywhere between high partials, but not between low ones. Noise that
 * is missing there may be voices, and is, where they were found.
 */
const LOW_PARTIALS = 8;
const VOICES_RISE_DB = 12;
const DOUBT = 0.4;

/** A sound and the pitch that it follows. */
export interface Followed {
  mono: Float64Array;
  sampleRateHz: number;
  f0Hz: number;
  f0At: (seconds: number) => number;
  /** Whether voices, a vibrato or another movement were found, which stand between the partials as well. */
  isMoving?: boolean;
}

/**
 * Noise under a tone, from what stands halfway between its partials in frames of whole periods, where steady
 * partials leave nothing. Beating or moving ones do, but less the longer the frames are; noise stays as it
 * is. Levels are against the tone's own power.
 */
export function measureNoise(tone: Followed, fromSeconds: number, toSeconds: number): SteadyNoise {
  const span = toSeconds - fromSeconds;
  const usable = FRAMES.filter(({ periods }) => periods / tone.f0Hz < Math.min(LONGEST_FRAME_SECONDS, span / 3));
  if (usable.length === 0) return { confidence: 0 };
  const [longest, next] = usable.slice(0, 2).map(({ periods }) => steadyNoise(tone, periods, fromSeconds, toSeconds));
  const looksMoved = longest.rise > VOICES_RISE_DB;
  const trust = looksMoved ? DOUBT : usable[0].trust;
  const leaks = next !== undefined && next.db > longest.db + LEAK_DB;
  if (longest.db < LEAST_DB) return { confidence: trust };
  const isDoubtful = (tone.isMoving || trust < DOUBT) && longest.db < DOUBTFUL_DB;
  if (leaks || isDoubtful || (looksMoved && tone.isMoving)) return { confidence: trust / 2 };
  return { found: { levelDb: longest.db, centroidHz: longest.centroidHz }, confidence: trust };
}

/** Noise that is there all along, where there is any. */
export interface SteadyNoise {
  found?: { levelDb: number; centroidHz: number };
  confidence: number;
}

function framesWithin({ seconds }: PartialFrames, from: number, to: number): number[] {
  return [...seconds.keys()].filter((t) => seconds[t] >= from && seconds[t] <= to);
}

/** Noise after the start and before the end, in frames of so many periods. */
function steadyNoise(
  { mono, sampleRateHz, f0Hz, f0At }: Followed,
  periods: number,
  fromSeconds: number,
  toSeconds: number,
) {
  const length = periods / f0Hz;
  const frames = measurePartials(
    mono,
    sampleRateHz,
    f0At,
    Math.max(0.01, (toSeconds - fromSeconds) / FRAME_COUNT),
    periods,
    fromSeconds,
  );
  const reach = length / 2;
  const late = framesWithin(frames, fromSeconds + ATTACK_SECONDS + reach, toSeconds - reach);
  const whole = framesWithin(frames, fromSeconds + reach, toSeconds - reach);
  return noiseOf(frames, late.length > 0 ? late : whole);
}

/**
 * Level in dB against the tone, centroid, and how much denser it is on the whole than between the lowest
 * partials, over some frames.
 */
function noiseOf({ amplitudes, between, count, f0Hz }: PartialFrames, chosen: readonly number[]) {
  let tone = 0;
  let noise = 0;
  let moment = 0;
  let low = 0;
  for (let n = 0; n < count; n++) {
    const shares = chosen.map((t) => between[t * count + n]);
    const power = chosen.length > 3 ? MEAN_OVER_MEDIAN * median(shares) : Math.min(...shares);
    noise += power;
    if (n < LOW_PARTIALS) low += power / Math.min(LOW_PARTIALS, count);
    moment += power * (n + 1.5) * f0Hz;
    for (const t of chosen) tone += amplitudes[t * count + n] ** 2 / 2 / chosen.length;
  }
  const rise = 10 * Math.log10((noise / count + 1e-15) / (low + 1e-15));
  return { db: 10 * Math.log10(noise / tone + 1e-12), centroidHz: noise > 0 ? moment / noise : 0, rise };
}
