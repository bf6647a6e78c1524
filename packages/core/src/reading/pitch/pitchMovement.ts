import type { FinePitch } from './finePitch';
import { type PeriodicMovement, findPeriodicMovement, sineOf } from '../movement/periodicMovement';
import { correlation, fitLine, mean, median } from '../statistics';

/** A pitch that slides to the note from somewhere else. */
export interface PitchSweep {
  /** Where it starts, against the note. */
  semitones: number;
  /** Until 90 % of the way is gone. */
  seconds: number;
}

const VIBRATO = { minHz: 2.5, maxHz: 12, leastDepth: 3, mayGrow: true };
/** Singers' and players' vibrato is round; what is not explained this far is something else. */
const LEAST_EXPLAINED = 0.6;
/** A few turns can be beating, or another note that dies away. */
const FEW_TURNS = 4;
const LEAST_EXPLAINED_OF_FEW = 0.85;
/** Partials that agree less are moved by something else, each by its own. */
const LEAST_AGREEMENT = 0.95;
/** Under this a start is taken as in tune. */
const LEAST_SWEEP_CENTS = 60;
/** A slide that takes longer than this share of the note is a glide or a bend, not the note's start. */
const LONGEST_SWEEP = 0.6;

/** Fewer frames do not tell a drift from a vibrato. */
const DRIFT_FRAMES = 30;

/**
 * How far the pitch moves from the first to the last third of a note after its slide, cents; undefined of
 * short notes.
 */
export function findDrift({ seconds, cents }: FinePitch, settledSeconds: number): number | undefined {
  const clear = [...cents.keys()].filter((i) => Number.isFinite(cents[i]) && seconds[i] > settledSeconds);
  if (clear.length < DRIFT_FRAMES) return undefined;
  const third = Math.floor(clear.length / 3);
  const middleOf = (frames: readonly number[]) => median(frames.map((i) => cents[i]));
  return middleOf(clear.slice(-third)) - middleOf(clear.slice(0, third));
}

/** A pitch that comes and goes. */
export interface Vibrato extends PeriodicMovement {
  /** How far partials do it together, 0..1. */
  agreement: number;
}

/** Vibrato of a note: depth in cents to either side. Undefined when its pitch does not come and go. */
export function findVibrato({ seconds, cents, partialCents }: FinePitch): Vibrato | undefined {
  // The start may slide; what is far from the note's pitch is no vibrato.
  const middle = median(cents.filter(Number.isFinite));
  const near = (values: Float64Array) => values.map((value) => (Math.abs(value - middle) < 300 ? value : NaN));
  const found = findPeriodicMovement(seconds, near(cents), VIBRATO);
  if (!found) return undefined;
  if (found.explained < (found.turns < FEW_TURNS ? LEAST_EXPLAINED_OF_FEW : LEAST_EXPLAINED)) return undefined;
  const agreement = agreementOf(seconds, partialCents.map(near), found.rateHz);
  return agreement > LEAST_AGREEMENT ? { ...found, agreement } : undefined;
}

/**
 * How far partials go up and down by the same cents at the same time, 0..1: the power of their mean over the
 * mean of their powers. All do where the pitch moves; a filter that does turns the phases of those near its
 * cutoff, each by its own.
 */
function agreementOf(seconds: Float64Array, partials: readonly Float64Array[], rateHz: number): number {
  const turns = partials.map((cents) => sineOf(seconds, cents, rateHz)).filter((turn) => turn !== undefined);
  if (turns.length < 2) return 1;
  const meanOf = (value: (turn: (typeof turns)[number]) => number) => mean(turns.map(value));
  const shared = meanOf(({ cosine }) => cosine) ** 2 + meanOf(({ sine }) => sine) ** 2;
  return shared / meanOf(({ cosine, sine }) => cosine ** 2 + sine ** 2);
}

/** A slide is followed until this share of it is left. */
const FOLLOWED = 0.04;
/** Of the logarithm of the slide's distance; with less it is no exponential, and read off as it is. */
const STRAIGHT = 0.95;

/**
 * The slide at the start of a note, when there is one of more than half a semitone. Most run exponentially:
 * then its start is where the logarithm of the distance, a straight line, meets the onset, which the first
 * frames only see blurred.
 */
export function findSweep({ seconds, cents, windowSeconds }: FinePitch, onsetSeconds: number): PitchSweep | undefined {
  const clear = [...cents.keys()].filter((i) => Number.isFinite(cents[i]));
  if (clear.length < 12) return undefined;
  const settled = median(clear.slice(Math.floor(clear.length / 2)).map((i) => cents[i]));
  const first = cents[clear[0]] - settled;
  if (Math.abs(first) < LEAST_SWEEP_CENTS) return undefined;
  const distance = (i: number) => (cents[i] - settled) * Math.sign(first);
  const over = clear.findIndex((i) => distance(i) <= FOLLOWED * Math.abs(first));
  if (over < 1) return undefined;
  const whole = seconds[clear[clear.length - 1]] - onsetSeconds;
  if (seconds[clear[over]] - onsetSeconds > LONGEST_SWEEP * whole) return undefined;

  // The first frames see parts of a fast slide only, and come to too little: what falls after their highest
  // is followed.
  const slide = clear.slice(0, over);
  const highest = slide.reduce((best, i, k) => (distance(i) > distance(slide[best]) ? k : best), 0);
  const sliding = slide.slice(highest > 0 ? highest + 1 : 0);
  const xs = sliding.map((i) => seconds[i] - onsetSeconds);
  const ys = sliding.map((i) => Math.log(distance(i)));
  const { intercept, slope } = fitLine(xs, ys, sliding.map(distance));
  if (sliding.length >= 4 && slope < 0 && correlation(xs, ys) < -STRAIGHT) {
    const a = (-slope * windowSeconds) / 2;
    // Mean of an exponential under a Hann window, against its middle.
    const blur = (Math.sinh(a) / a) * (Math.PI ** 2 / (Math.PI ** 2 + a * a));
    return { semitones: (Math.sign(first) * Math.exp(intercept)) / blur / 100, seconds: -Math.log(10) / slope };
  }
  const arrived = clear.find((i) => distance(i) <= 0.1 * Math.abs(first))!;
  return { semitones: first / 100, seconds: seconds[arrived] - onsetSeconds };
}
