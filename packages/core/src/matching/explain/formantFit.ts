import { decibelsFromGain } from '../../dsp/decibels';
import { DECAY_TAUS } from '../../patch/envelopeCurve';
import type { PartialFrames } from '../../reading/partials/partialFrames';

/** A resonance on its way, as a bell of an equaliser. */
export interface Resonance {
  fromHz: number;
  toHz: number;
  db: number;
  q: number;
}

export interface Resonances {
  peaks: Resonance[];
  /** A low-pass of 6 dB an octave behind them. */
  cutoffHz: number;
  /** After which they have arrived. */
  waySeconds: number;
  /** Whether they settle as an envelope decays, not evenly. */
  settles: boolean;
  /** How far partials are from those of a saw through them. */
  errorDb: number;
}

const MOST_FRAMES = 14;
/** Partials further under the strongest of their frame, and frames under the loudest, say little. */
const AUDIBLE_DB = 45;
const LOUD_DB = 30;
const ROUNDS = 7;
const MOST_TURNS = 4;
/** First steps: octaves, dB, octaves of Q, octaves of time. */
const STEPS = { hz: 0.12, db: 6, q: 0.8, seconds: 0.5, cutoff: 1 };
/** How long a way takes, as shares of the note, to start from: errors have a valley at each. */
const WAYS = [1, 0.7, 0.4];
/** What stands at the fundamental beside them, where it leaves so much less: resonances side by side. */
const BODY = { db: 6, q: 0.7 };
const BODY_HARMONIC = 1.3;
const BODY_LEAVES = 0.75;
const STANDING = { share: 1, settles: false };
const OPEN_HZ = 20000;

/** Gain of a bell in dB at a frequency, as the analogue prototype of the Audio EQ Cookbook has it. */
function bellDb(hz: number, centreHz: number, db: number, q: number): number {
  const a = 10 ** (db / 40);
  const w = hz / centreHz;
  const apart = (1 - w * w) ** 2;
  return 10 * Math.log10((apart + ((w * a) / q) ** 2) / (apart + (w / a / q) ** 2));
}

interface Frame {
  seconds: number;
  levelsDb: readonly number[];
}

/** Some frames of where the note sounds, from its start on. */
function soundingFrames({ seconds, count, amplitudes }: PartialFrames, startSeconds: number): Frame[] {
  const frames = Array.from(seconds, (at, t) => {
    const levelsDb = Array.from(amplitudes.subarray(t * count, (t + 1) * count), (a) => decibelsFromGain(a));
    return { seconds: at - startSeconds, levelsDb, top: Math.max(-200, ...levelsDb) };
  });
  const loudest = Math.max(...frames.map(({ top }) => top));
  const heard = frames.filter((frame) => frame.seconds >= 0 && frame.top > loudest - LOUD_DB);
  const step = Math.max(1, heard.length / MOST_FRAMES);
  return Array.from({ length: Math.min(MOST_FRAMES, heard.length) }, (_, i) => heard[Math.floor(i * step)]);
}

/**
 * The bells that make the partials of a saw those that were measured, found by a search along the coordinates
 * (Hooke & Jeeves 1961) from where the peaks were seen. Levels are free in every frame; errors count in dB.
 *
 * @param seconds how long the note lasts from `startSeconds` on
 */
export function fitResonances(
  partials: PartialFrames,
  startSeconds: number,
  seen: readonly Resonance[],
  seconds: number,
): Resonances {
  const frames = soundingFrames(partials, startSeconds);
  const moves = seen.some(({ fromHz, toHz }) => fromHz !== toHz);
  const starts = moves ? WAYS.flatMap((share) => [false, true].map((settles) => ({ share, settles }))) : [STANDING];
  const error = (tried: Tried) => errorOf(tried, frames, partials.f0Hz);
  const found = starts
    .map(({ share, settles }) => ({ peaks: [...seen], waySeconds: share * seconds, settles, cutoffHz: OPEN_HZ }))
    .map((start) => alongCoordinates(start, moves, error))
    .reduce((best, one) => (one.errorDb < best.errorDb ? one : best));
  const bodyHz = BODY_HARMONIC * partials.f0Hz;
  const peaks = [...found.peaks, { ...BODY, fromHz: bodyHz, toHz: bodyHz }];
  // The low-pass that stood for it goes.
  const withBody = alongCoordinates({ ...found, peaks, cutoffHz: OPEN_HZ }, moves, error);
  return withBody.errorDb < BODY_LEAVES * found.errorDb ? withBody : found;
}

type Tried = Omit<Resonances, 'errorDb'>;

function errorOf({ peaks, waySeconds, settles, cutoffHz }: Tried, frames: readonly Frame[], f0Hz: number): number {
  let squares = 0;
  for (const frame of frames) {
    const turns = frame.seconds / waySeconds;
    const along = settles ? 1 - Math.exp(-DECAY_TAUS * turns) : Math.min(1, turns);
    const centres = peaks.map(({ fromHz, toHz }) => fromHz * (toHz / fromHz) ** along);
    const top = Math.max(...frame.levelsDb);
    let [sum, ofSquares, weights] = [0, 0, 1e-9];
    frame.levelsDb.forEach((level, i) => {
      const over = level - top + AUDIBLE_DB;
      if (over <= 0) return;
      const hz = f0Hz * (i + 1);
      const bells = peaks.reduce((total, { db, q }, k) => total + bellDb(hz, centres[k], db, q), 0);
      const lowpass = -10 * Math.log10(1 + (hz / cutoffHz) ** 2);
      const error = level + 20 * Math.log10(i + 1) - bells - lowpass;
      // Bands of the ear are about as wide as their frequency is high.
      const weight = over / AUDIBLE_DB / (i + 1);
      sum += weight * error;
      ofSquares += weight * error * error;
      weights += weight;
    });
    squares += ofSquares / weights - (sum / weights) ** 2;
  }
  return Math.sqrt(Math.max(0, squares) / Math.max(1, frames.length));
}

function alongCoordinates(start: Tried, moves: boolean, error: (tried: Tried) => number): Resonances {
  let best = { ...start, errorDb: error(start) };
  const tryOut = (change: Partial<Tried>): boolean => {
    const errorDb = error({ ...best, ...change });
    if (errorDb >= best.errorDb) return false;
    best = { ...best, ...change, errorDb };
    return true;
  };
  for (let round = 0; round < ROUNDS; round++) {
    let isBetter = true;
    for (let turn = 0; isBetter && turn < MOST_TURNS; turn++) {
      isBetter = false;
      for (const by of [2 ** -round, -(2 ** -round)]) {
        for (const k of start.peaks.keys())
          for (const changed of turned(best.peaks[k], by))
            if (tryOut({ peaks: best.peaks.map((peak, i) => (i === k ? changed : peak)) })) isBetter = true;
        if (moves && tryOut({ waySeconds: best.waySeconds * 2 ** (by * STEPS.seconds) })) isBetter = true;
        if (tryOut({ cutoffHz: Math.min(OPEN_HZ, best.cutoffHz * 2 ** (by * STEPS.cutoff)) })) isBetter = true;
      }
    }
  }
  return best;
}

/** A peak with each of its numbers a step further, within what an equaliser has. */
function turned({ fromHz, toHz, db, q }: Resonance, by: number): Resonance[] {
  const ratio = 2 ** (by * STEPS.hz);
  const louder = { fromHz, toHz, db: Math.min(24, Math.max(0, db + by * STEPS.db)), q };
  const sharper = { fromHz, toHz, db, q: Math.min(40, Math.max(0.3, q * 2 ** (by * STEPS.q))) };
  const elsewhere =
    fromHz !== toHz
      ? [
          { fromHz: fromHz * ratio, toHz, db, q },
          { fromHz, toHz: toHz * ratio, db, q },
        ]
      : [{ fromHz: fromHz * ratio, toHz: toHz * ratio, db, q }];
  return [...elsewhere, louder, sharper];
}
