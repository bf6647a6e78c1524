import { gainFromDecibels } from '../../dsp/decibels';
import { DECAY_TAUS, RELEASE_TAUS } from '../../patch/envelopeCurve';
import { type LevelContour, RIPPLE_PARTS, type Ripple } from './levelContour';

/** What is further under the top counts as silence. */
export const FLOOR_DB = -70;

/**
 * What can be told of a note: all of it, one that is not let go, one that neither rises nor falls until it is
 * let go. Any decay can also be told as an early note-off with a long release, and what beats as a decay.
 */
export type Story = 'released' | 'held' | 'even';

/** Seconds and gains of an envelope, as it is fitted. */
export interface Model {
  onset: number;
  attack: number;
  hold: number;
  decay: number;
  /** As gain. */
  sustain: number;
  off: number;
  release: number;
  full: number;
}

export type StartingPoint = Omit<Model, 'full'>;

const MIN_SECONDS = 2e-4;
const MAX_SECONDS = 60;

export const encode = ({ onset, attack, hold, decay, sustain, off, release }: StartingPoint) => [
  onset,
  Math.log(attack),
  hold,
  Math.log(decay),
  Math.sqrt(sustain),
  off,
  Math.log(release),
  0,
];

/** The point of a held note as that of one which is let go at the end of the cut. */
export const letGoAt = (point: Float64Array, end: number) => point.map((value, i) => (i === 5 ? end : value));

export function decode(point: ArrayLike<number>, story: Story): Model {
  // Turned round at its ends, so that a search does not get stuck beyond them.
  const sustain = 1 - Math.abs(1 - (Math.abs(point[4]) % 2));
  return {
    onset: point[0],
    attack: limit(Math.exp(point[1])),
    hold: Math.abs(point[2]),
    decay: limit(Math.exp(point[3])),
    sustain: story === 'even' ? 1 : sustain * sustain,
    off: story === 'held' ? Infinity : Math.max(point[0], point[5]),
    release: limit(Math.exp(point[6])),
    full: Math.exp(point[7]),
  };
}

/** What is let go while it rises is a shorter rise to less: the same curve, in those words. */
export function risen(model: Model): Model {
  const { onset, attack, off, full } = model;
  const rose = Math.max(MIN_SECONDS, off - onset);
  return rose < attack ? { ...model, attack: rose, hold: 0, full: (full * rose) / attack } : model;
}

export const limit = (seconds: number) => Math.min(MAX_SECONDS, Math.max(MIN_SECONDS, seconds));

/** Whether seconds, as their logarithm, are beyond what is told. */
export const isLimited = (logSeconds: number) => limit(Math.exp(logSeconds)) !== Math.exp(logSeconds);

/**
 * The value of the model at a time: the engine's envelope with plain curves, written out since a fit reads it
 * a million times.
 */
export function plainEnvelope({ onset, attack, hold, decay, sustain, off, release }: StartingPoint, at: number) {
  if (at < onset) return 0;
  const t = Math.min(at, off) - onset;
  const fall = t - attack - hold;
  const value =
    t < attack ? t / attack : fall <= 0 ? 1 : sustain + (1 - sustain) * Math.exp((-DECAY_TAUS * fall) / decay);
  return at <= off ? value : value * Math.exp((-RELEASE_TAUS * (at - off)) / release);
}

/** The model's RMS over the measuring window around a place. */
export function blurred(
  model: Model,
  { seconds, parts, shares }: Places,
  place: number,
  windowSeconds: number,
): number {
  const { full } = model;
  const middle = seconds[place];
  const nearOnset = isNearOnset(model, middle, windowSeconds);
  // Elsewhere the curve is smooth, and its middle stands for the window.
  if (!nearOnset && !isNearOff(model, middle, windowSeconds)) return full * plainEnvelope(model, middle);
  let power = 0;
  for (let part = 0; part < parts; part++) {
    const value = plainEnvelope(model, middle + offsetOf(part, parts, windowSeconds));
    power += value * value * (nearOnset ? shares[place * parts + part] : 1);
  }
  return full * Math.sqrt(power / parts);
}

/** Whether a window around a time reaches into the rise. */
export const isNearOnset = ({ onset, attack }: Model, middle: number, windowSeconds: number) =>
  middle > onset - windowSeconds / 2 && middle < onset + attack + windowSeconds / 2;

/** Whether a window around a time has the note-off in it. */
export const isNearOff = ({ off }: Model, middle: number, windowSeconds: number) =>
  Math.abs(middle - off) < windowSeconds / 2;

/** Share of the period's power at a time, straight between the middles of the parts. */
function powerAt({ periodSeconds, originSeconds, power }: Ripple, seconds: number): number {
  const turns = (seconds - originSeconds) / periodSeconds;
  const x = (turns - Math.floor(turns)) * RIPPLE_PARTS - 0.5 + RIPPLE_PARTS;
  const part = Math.floor(x);
  const here = power[part % RIPPLE_PARTS];
  return here + (x - part) * (power[(part + 1) % RIPPLE_PARTS] - here);
}

/** Places of a contour, and how the power is spread over the window around each. */
export interface Places {
  seconds: Float64Array;
  /** Parts of a window, and the share of each, a row a place; all 1 where a period does not ripple. */
  parts: number;
  shares: Float64Array;
}

const BLUR_POINTS = 5;

export function placesOf(seconds: Float64Array, { ripple, windowSeconds }: LevelContour): Places {
  const parts = ripple ? RIPPLE_PARTS : BLUR_POINTS;
  const shares = new Float64Array(seconds.length * parts).fill(1);
  if (ripple) {
    shares.forEach((_, i) => {
      shares[i] = powerAt(ripple, seconds[Math.floor(i / parts)] + offsetOf(i % parts, parts, windowSeconds));
    });
  }
  return { seconds, parts, shares };
}

/** Where the middle of a part of a window lies from the window's own. */
export const offsetOf = (part: number, parts: number, windowSeconds: number) =>
  windowSeconds * ((part + 0.5) / parts - 0.5);

/** Level at a time, straight between the contour's points, 0 outside. */
export function readContour({ rms, hopSeconds }: LevelContour, seconds: number): number {
  const x = seconds / hopSeconds;
  const i = Math.floor(x);
  if (i < 0 || i >= rms.length - 1) return i === rms.length - 1 ? rms[i] : 0;
  return rms[i] + (x - i) * (rms[i + 1] - rms[i]);
}

const FLOOR_GAIN = gainFromDecibels(FLOOR_DB);

/** How fast `compress` rises there. */
export const compressSlope = (ratio: number) => (ratio > FLOOR_GAIN ? 0.5 / Math.sqrt(ratio) : 0);

/**
 * Loudness grows about with the square root of amplitude (Stevens); fitting in that domain weighs attack and
 * tail alike.
 */
export const compress = (ratio: number) => Math.sqrt(Math.max(ratio, FLOOR_GAIN));
