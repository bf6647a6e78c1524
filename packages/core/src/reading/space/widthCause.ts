import { type Audio, durationOf, sliceAudio } from '../audio';
import type { Motion } from '../movement/motion';
import { type PartialEnvelopes, measureEnvelopes, powersOf } from '../partials/partialEnvelopes';
import type { Reading } from '../schema';
import type { Space } from './space';
import { mean, median, quantile } from '../statistics';

export type WidthCause = NonNullable<Reading['traits']['width']['cause']>;

/** A stereo note and what else was measured of it. */
interface WideNote {
  audio: Audio;
  f0Hz: number;
  f0At: (seconds: number) => number;
  fromSeconds: number;
  toSeconds: number;
  unison: Reading['traits']['unison'];
  motion: readonly Motion[];
  space: Space;
}

const MOST_PARTIALS = 20;
const LEAST_DB = -40;
const MIN_PARTIALS = 3;
/** Sides this far under the whole are not heard as width. */
const NARROW_DB = -26;
/** From here on a partial of both channels is the same but for its level and its phase. */
const COHERENT = 0.9;
const IN_PHASE_RADIANS = 0.2;
const SAME_LEVEL_DB = 1.2;
const LEAST_PANNED_DB = 0.8;
/** What is nearer to nothing is no delay. */
const LEAST_DELAY_SECONDS = 1e-4;
const MOST_DELAY_SECONDS = 0.04;
/** Mean cosine of what a delay leaves of the phases between the channels. */
const DELAY_FITS = 0.85;
const TAIL_DB = 3;

export interface ToldWidthCause {
  cause: WidthCause;
  /** The side that is late, positive for the right one; of a delay only. */
  delaySeconds: number | undefined;
  confidence: number;
}

/**
 * What makes a note wide, by the partials of both channels against each other (our own rule): panned ones
 * differ in level alone; a delay turns them by an angle that grows with frequency; detuned voices turn on; a
 * room's stand at any angle, and its sides outlast the note. Undefined of what is not wide.
 */
export function findWidthCause(note: WideNote): ToldWidthCause | undefined {
  const { audio, f0Hz, f0At, fromSeconds, toSeconds, unison, motion, space } = note;
  if (audio.channels.length < 2 || isNarrow(audio)) return undefined;
  // The start of a long note tells as much as all of it; its tail is looked at for itself.
  const end = Math.min(toSeconds, fromSeconds + MOST_SECONDS);
  const [left, right] = envelopesWithin(audio, f0Hz, f0At, 0, end);
  const pairs = comparePartials(left, right, fromSeconds, end);
  const sideDb = sideLevelDb(left, right, fromSeconds, end);
  if (pairs.length < MIN_PARTIALS || sideDb < NARROW_DB) return undefined;
  const told = (cause: WidthCause, confidence: number, delaySeconds?: number): ToldWidthCause => ({
    cause,
    delaySeconds,
    confidence,
  });
  const [tailFrom, tailTo] = [toSeconds + TAIL_STARTS, Math.min(durationOf(audio), toSeconds + TAIL_ENDS)];
  const [leftTail, rightTail] = envelopesWithin(audio, f0Hz, f0At, tailFrom, tailTo);
  const tailDb = sideLevelDb(leftTail, rightTail, 0, Infinity);
  const outlasts = tailDb > sideDb + TAIL_DB && tailDb > NARROW_DB;
  if (median(pairs.map(({ coherence }) => coherence)) >= COHERENT) {
    const inPhase = quantile(
      pairs.map(({ radians }) => Math.abs(radians)),
      0.75,
    );
    const levels = pairs.map(({ levelDb }) => levelDb);
    const spread = quantile(levels, 0.85) - quantile(levels, 0.15);
    const inMiddle = Math.abs(median(levels)) < LEAST_PANNED_DB;
    if (inPhase < IN_PHASE_RADIANS && spread < SAME_LEVEL_DB && !inMiddle) return told('panning', 0.9);
    // Around a voice in the middle, others may turn.
    if (inMiddle && unison.detuneCents !== null) return told('detune', unison.confidence);
    const delay = fitDelay(pairs, f0Hz);
    if (delay.fit > DELAY_FITS && Math.abs(delay.seconds) > LEAST_DELAY_SECONDS) {
      return told('delay', delay.fit * 0.95, delayAtOnset(audio, delay.seconds, 1 / f0Hz, fromSeconds));
    }
    if (space.rt60Seconds !== null || outlasts) return told('reverb', outlasts ? 0.8 : 0.6);
    return undefined;
  }
  if (unison.detuneCents !== null) return told('detune', Math.max(0.5, unison.confidence));
  if (motion.some(({ cause }) => cause === 'chorus' || cause === 'phaser')) return told('delay', 0.6);
  return space.rt60Seconds !== null || outlasts ? told('reverb', 0.6) : undefined;
}

const MOST_SECONDS = 4;

/** Whether both channels are nearly the same: that is told from the samples alone. */
function isNarrow({ channels: [left, right] }: Audio): boolean {
  let side = 0;
  let whole = 0;
  for (let i = 0; i < left.length; i++) {
    side += (left[i] - right[i]) ** 2 / 4;
    whole += (left[i] ** 2 + right[i] ** 2) / 2;
  }
  return 10 * Math.log10((side + 1e-15) / (whole + 1e-15)) < NARROW_DB;
}

/** The partials of both channels over a stretch, with times from its start. */
function envelopesWithin(audio: Audio, f0Hz: number, f0At: (seconds: number) => number, from: number, to: number) {
  const { channels, sampleRateHz } = sliceAudio(audio, from, Math.max(from, to));
  return channels.map((channel) =>
    measureEnvelopes(Float64Array.from(channel), sampleRateHz, f0Hz, {
      mostPartials: MOST_PARTIALS,
      f0At: (seconds) => f0At(from + seconds),
    }),
  );
}

/** Where the tail is looked at, after the end of the note. */
const TAIL_STARTS = 0.1;
const TAIL_ENDS = 0.6;

/** One partial of the left channel against that of the right. */
interface Pair {
  /** Number of the partial, from 1. */
  n: number;
  coherence: number;
  radians: number;
  levelDb: number;
}

function comparePartials(left: PartialEnvelopes, right: PartialEnvelopes, from: number, to: number): Pair[] {
  const inside = placesWithin(left, from, to);
  if (inside.length === 0) return [];
  const pairs = left.partials.map((l, i) => {
    const r = right.partials[i];
    let re = 0;
    let im = 0;
    let ll = 0;
    let rr = 0;
    for (const k of inside) {
      re += l.re[k] * r.re[k] + l.im[k] * r.im[k];
      im += l.im[k] * r.re[k] - l.re[k] * r.im[k];
      ll += l.re[k] ** 2 + l.im[k] ** 2;
      rr += r.re[k] ** 2 + r.im[k] ** 2;
    }
    return {
      n: i + 1,
      coherence: Math.sqrt((re * re + im * im) / (ll * rr + 1e-30)),
      radians: Math.atan2(im, re),
      levelDb: 10 * Math.log10((ll + 1e-15) / (rr + 1e-15)),
      power: ll + rr,
    };
  });
  const strongest = Math.max(...pairs.map(({ power }) => power));
  return pairs.filter(({ power }) => power > strongest * 10 ** (LEAST_DB / 10));
}

const placesWithin = ({ seconds }: PartialEnvelopes, from: number, to: number) =>
  [...seconds.keys()].filter((i) => seconds[i] >= from && seconds[i] <= to);

/** Power of the side signal's partials against that of all. */
function sideLevelDb(left: PartialEnvelopes, right: PartialEnvelopes, from: number, to: number): number {
  const inside = placesWithin(left, from, to);
  if (inside.length === 0) return -Infinity;
  let side = 0;
  let whole = 0;
  left.partials.forEach((l, i) => {
    const r = right.partials[i];
    const [leftPower, rightPower] = [powersOf(l), powersOf(r)].map((power) => mean(inside.map((k) => power[k])));
    whole += (leftPower + rightPower) / 2;
    side += mean(inside.map((k) => ((l.re[k] - r.re[k]) / 2) ** 2 + ((l.im[k] - r.im[k]) / 2) ** 2));
  });
  return 10 * Math.log10((side + 1e-15) / (whole + 1e-15));
}

const ONSET_LOOK_SECONDS = 0.1;

/**
 * The delay that is any number of periods from a given one at which the starts of both channels are most
 * alike.
 */
function delayAtOnset({ channels, sampleRateHz }: Audio, delay: number, period: number, fromSeconds: number): number {
  const first = Math.round((fromSeconds - MOST_DELAY_SECONDS) * sampleRateHz);
  const length = Math.round((ONSET_LOOK_SECONDS + MOST_DELAY_SECONDS) * sampleRateHz);
  const [left, right] = channels.map((channel) => {
    const part = Float64Array.from({ length }, (_, i) => channel[first + i] ?? 0);
    const peak = part.reduce((a, x) => Math.max(a, Math.abs(x)), 1e-9);
    return part.map((x) => x / peak);
  });
  let best = delay;
  let least = Infinity;
  const turns = Math.ceil(MOST_DELAY_SECONDS / period);
  for (let turn = -turns; turn <= turns; turn++) {
    const seconds = delay + turn * period;
    if (Math.abs(seconds) > MOST_DELAY_SECONDS) continue;
    const lag = Math.round(seconds * sampleRateHz);
    let sum = 0;
    for (let i = 0; i < length; i++) sum += ((left[i - lag] ?? 0) - right[i]) ** 2;
    if (sum < least) {
      least = sum;
      best = seconds;
    }
  }
  return best;
}

/** Steps of a delay, as a share of the period of the highest partial. */
const DELAY_STEP = 0.1;

/** The shortest delay that explains the angles between the channels nearly as well as any does. */
function fitDelay(pairs: readonly Pair[], f0Hz: number): { seconds: number; fit: number } {
  const step = DELAY_STEP / (pairs[pairs.length - 1].n * f0Hz);
  // A period more or less is the same to all partials.
  const longest = Math.min(MOST_DELAY_SECONDS, 0.5 / f0Hz);
  const fitOf = (seconds: number) =>
    mean(pairs.map(({ n, radians }) => Math.cos(radians - 2 * Math.PI * n * f0Hz * seconds)));
  let found = { seconds: 0, fit: -1 };
  for (let seconds = -longest; seconds <= longest; seconds += step) {
    const fit = fitOf(seconds);
    if (fit > found.fit) found = { seconds, fit };
  }
  return found;
}
