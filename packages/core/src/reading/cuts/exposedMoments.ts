import { resample } from '../../dsp/sinc';
import { centsBetween, midiFromHz } from '../../dsp/pitch';
import { mean, median, quantile } from '../statistics';
import type { Steps } from '../steps';
import { createYin } from '../pitch/yin';

/** What a tone does in a piece. */
export type ToneRole = 'bass' | 'lead' | 'pad' | 'pluck';

/** A spot where one pitched tone is nearly alone. */
export interface ExposedMoment {
  /** From just before the attack until the tail is over or something else begins. */
  fromSeconds: number;
  toSeconds: number;
  f0Hz: number;
  midi: number;
  role: ToneRole;
  /** 0..1: how alone, steady and complete it is. */
  score: number;
  /** 0..1: how much of the sound repeats at the tone's period. */
  alone: number;
  /** Whether it rises from (nearly) nothing, and dies away before anything else begins. */
  attack: boolean;
  tail: boolean;
}

const RATE_HZ = 22050;
const HOP_SECONDS = 0.025;
const MIN_HZ = 27;
const MAX_HZ = 2200;
const FRAMES_A_STEP = 20;

/** A frame is one tone from this clarity on: drums, noise and other parts do not repeat at its period. */
const CLEAR = 0.8;
const SAME_NOTE_CENTS = 60;
/** Frames of doubt that a note may have. */
const GAP_FRAMES = 4;
/** Voices that beat cancel for a while: the note goes on when its pitch and level do. */
const BEAT_FRAMES = 120;
const BEAT_DB = 14;
const SHORTEST_FRAMES = 4;
const MIN_SECONDS = 0.25;
const LONG_SECONDS = 1.2;
const MOST_TAIL_SECONDS = 2.5;
const ATTACK_RISE_DB = 12;
const TAIL_FALL_DB = 18;
const RISE_DB = 3;
const QUIET_DB = -45;
const MOST_MOMENTS = 12;
/** Before the onset, so that the attack is whole. */
const LEAD_IN_SECONDS = 0.06;

interface Frames {
  f0Hz: Float64Array;
  clarity: Float64Array;
  db: Float64Array;
}

/**
 * Spots of a piece where one tone is nearly alone, best first: runs of frames that repeat at one period, by
 * the clarity of YIN, ranked by how alone, how long and how complete they are. In steps of a few
 * milliseconds.
 *
 * @param onsets times at which something starts, rising
 */
export function* exposedSteps(
  mono: Float64Array,
  sampleRateHz: number,
  onsets: readonly number[],
): Steps<ExposedMoment[]> {
  const frames = yield* frameSteps(mono, sampleRateHz);
  const moments = runsOf(frames, onsets).flatMap((run) => momentOf(run, frames, onsets) ?? []);
  moments.sort((a, b) => b.score - a.score);
  const kept: ExposedMoment[] = [];
  for (const moment of moments) {
    const overlaps = kept.some(({ fromSeconds, toSeconds }) => {
      return moment.fromSeconds < toSeconds - LEAD_IN_SECONDS && moment.toSeconds > fromSeconds + LEAD_IN_SECONDS;
    });
    if (!overlaps) kept.push(moment);
    if (kept.length === MOST_MOMENTS) break;
  }
  return kept;
}

function* frameSteps(mono: Float64Array, sampleRateHz: number): Steps<Frames> {
  const ratio = Math.min(1, RATE_HZ / sampleRateHz);
  const rate = sampleRateHz * ratio;
  const yin = createYin(rate, MIN_HZ, Math.min(MAX_HZ, rate / 4));
  const count = Math.max(0, Math.floor(mono.length / sampleRateHz / HOP_SECONDS));
  const frames: Frames = {
    f0Hz: new Float64Array(count).fill(NaN),
    clarity: new Float64Array(count),
    db: new Float64Array(count).fill(-120),
  };
  const hop = HOP_SECONDS * sampleRateHz;
  const needed = Math.ceil(yin.frameLength / ratio) + 64;
  for (let i = 0; i < count; i++) {
    if (i % FRAMES_A_STEP === 0) yield i / count;
    const middle = Math.round((i + 0.5) * hop);
    let power = 0;
    const [from, to] = [Math.round(i * hop), Math.min(mono.length, Math.round((i + 1) * hop))];
    for (let k = from; k < to; k++) power += mono[k] * mono[k];
    frames.db[i] = 10 * Math.log10(power / Math.max(1, to - from) + 1e-12);
    if (frames.db[i] < -80) continue;
    const start = Math.max(0, middle - (needed >> 1));
    if (start + needed > mono.length) continue;
    const part = mono.subarray(start, start + needed);
    const estimate = yin.estimate(ratio < 1 ? resample(part, ratio) : part, 0);
    if (!estimate) continue;
    frames.f0Hz[i] = estimate.f0Hz;
    frames.clarity[i] = estimate.clarity;
  }
  return frames;
}

interface Run {
  from: number;
  to: number;
}

/** Runs of clear frames with one pitch, first to last frame. */
function runsOf({ f0Hz, clarity, db }: Frames, onsets: readonly number[]): Run[] {
  const top = quantile(db, 0.98);
  const clear = (i: number) => clarity[i] > CLEAR && db[i] > top + QUIET_DB;
  const runs: Run[] = [];
  for (let from = 0; from < f0Hz.length; from++) {
    if (!clear(from)) continue;
    let to = from;
    let pitch = f0Hz[from];
    for (let i = from + 1; i < f0Hz.length && i - to <= GAP_FRAMES + 1; i++) {
      if (!clear(i)) continue;
      if (Math.abs(centsBetween(pitch, f0Hz[i])) > SAME_NOTE_CENTS) break;
      // The pitch may drift, but not jump.
      pitch = 0.7 * pitch + 0.3 * f0Hz[i];
      to = i;
    }
    // A few frames of another octave are no note.
    const before = runs[runs.length - 1];
    if (to - from < SHORTEST_FRAMES) continue;
    if (before && goesOn(before, { from, to })) before.to = to;
    else runs.push({ from, to });
    from = to;
  }
  return runs.filter(({ from, to }) => (to - from) * HOP_SECONDS >= MIN_SECONDS);

  function goesOn(before: Run, { from, to }: Run): boolean {
    const begins = onsets.some((at) => at > before.to * HOP_SECONDS && at < (from + 2) * HOP_SECONDS);
    if (from - before.to > BEAT_FRAMES || begins) return false;
    const gap = Math.min(...db.subarray(before.to, from + 1));
    const pitches = [f0Hz.subarray(before.from, before.to + 1), f0Hz.subarray(from, to + 1)].map((part) =>
      median(part.filter(Number.isFinite)),
    );
    return (
      Math.abs(centsBetween(pitches[0], pitches[1])) < SAME_NOTE_CENTS &&
      Math.abs(gap - db[from]) < BEAT_DB &&
      db[Math.min(from + 2, db.length - 1)] - gap < BEAT_DB
    );
  }
}

function momentOf(run: Run, { f0Hz, clarity, db }: Frames, onsets: readonly number[]): ExposedMoment | undefined {
  const frames = Array.from({ length: run.to - run.from + 1 }, (_, k) => run.from + k).filter(
    (i) => clarity[i] > CLEAR,
  );
  const pitch = median(frames.map((i) => f0Hz[i]));
  const startSeconds = run.from * HOP_SECONDS;
  const onset =
    onsets.findLast((at) => at <= startSeconds + 2 * HOP_SECONDS && at >= startSeconds - 0.25) ?? startSeconds;
  const loudest = Math.max(...frames.map((i) => db[i]));

  // The tail: until it has died away, or the next onset.
  const endSeconds = (run.to + 1) * HOP_SECONDS;
  // Beating looks like onsets, too: something that begins makes it louder.
  const rises = (at: number) => {
    const frame = Math.round(at / HOP_SECONDS);
    return Math.max(...db.subarray(frame, frame + 4)) - (db[frame - 2] ?? -120) > RISE_DB;
  };
  const next = onsets.find((at) => at > endSeconds - 2 * HOP_SECONDS && rises(at)) ?? db.length * HOP_SECONDS;
  const last = Math.min(next, endSeconds + MOST_TAIL_SECONDS);
  let end = run.to;
  while ((end + 1) * HOP_SECONDS < last && db[end] > loudest + QUIET_DB) end++;
  const toSeconds = Math.min(last, (end + 1) * HOP_SECONDS);
  const before = Math.max(0, Math.round(onset / HOP_SECONDS) - 2);
  const attack = before === 0 || loudest - db[before] > ATTACK_RISE_DB;
  const tail = loudest - db[Math.min(end, db.length - 1)] > TAIL_FALL_DB;

  const alone = mean(frames.map((i) => clarity[i]));
  const steady = frames.filter((i) => Math.abs(centsBetween(pitch, f0Hz[i])) < SAME_NOTE_CENTS).length / frames.length;
  const length = Math.min(1, (toSeconds - onset) / LONG_SECONDS);
  const score =
    ((alone - CLEAR) / (1 - CLEAR)) * steady * (0.4 + 0.3 * length + (attack ? 0.15 : 0) + (tail ? 0.15 : 0));
  const fromSeconds = Math.max(0, onset - LEAD_IN_SECONDS);
  const levels = db.subarray(Math.round(onset / HOP_SECONDS), end + 1);
  return {
    fromSeconds,
    toSeconds,
    f0Hz: pitch,
    midi: Math.round(midiFromHz(pitch)),
    role: roleOf(pitch, levels),
    score,
    alone,
    attack,
    tail,
  };
}

const BASS_HZ = 125;
const PLUCK_FALL_DB = 10;
const PLUCK_SECONDS = 0.4;
const PAD_RISE_SECONDS = 0.15;

/** By register, and by how the level comes and goes (common practice). */
function roleOf(f0Hz: number, levelsDb: Float64Array): ToneRole {
  if (f0Hz < BASS_HZ) return 'bass';
  const top = Math.max(...levelsDb);
  const rise = levelsDb.findIndex((db) => db > top - 3) * HOP_SECONDS;
  if (rise > PAD_RISE_SECONDS) return 'pad';
  const peak = levelsDb.indexOf(top);
  const later = levelsDb[Math.min(levelsDb.length - 1, peak + Math.round(PLUCK_SECONDS / HOP_SECONDS))];
  return top - later > PLUCK_FALL_DB ? 'pluck' : 'lead';
}
