import { partialMagnitudes } from '../../dsp/harmonics';
import { hzFromMidi, midiFromHz } from '../../dsp/pitch';
import type { PitchTrack } from '../pitch/pitchTrack';
import { LOWEST_MIDI, type NoteActivity } from './noteActivity';

/** A sound, and what was found of its notes before. */
export interface LineSound {
  mono: Float64Array;
  sampleRateHz: number;
  track: PitchTrack;
  activity: NoteActivity;
  /** Times at which something starts, rising. */
  onsets: readonly number[];
  /** Those of them at which a short noise sounds. */
  hits: readonly number[];
}

/** The start of a note says little about its pitch, and the end of a stretch sees the next one. */
export const START_SECONDS = 0.025;
export const END_SECONDS = 0.01;
/** Frames this unclear have no say, and a stretch without clear ones has no pitch from them. */
const LEAST_CLARITY = 0.3;
export const CLEAR = 0.55;
const LEAST_CLEAR = 0.4;
/** Of what two notes' partials hold, an unclear period has to have the more. */
const DOUBT = 0.5;
/** A period this clear is that of a note; beside others so many of the notes that have most are looked at. */
const SURELY_CLEAR = 0.9;
const CANDIDATES = 6;
/** Two pitches are multiples of one another when they are no further off than this. */
const MULTIPLE_SEMITONES = 0.4;
/** Of the partials of a note, so many are looked at, over as many periods at least. */
const OWN_PARTIALS = 16;
const OWN_PERIODS = 4;
const OWN_SHARE = 0.4;
const OWN_REST = 0.07;
/** The note at a multiple that has this much besides its loudest partial is one itself. */
const MANY_SHARE = 0.3;
const SINE_REST = 0.5;

/** From one start to the next. */
export interface Span {
  from: number;
  to: number;
}

export interface Stretch extends Span {
  midi: number;
}

/** Whether one pitch is about a whole number of times the other: errors of a pitch track are. */
export function isMultiple(a: number, b: number): boolean {
  const ratio = 2 ** (Math.abs(a - b) / 12);
  const near = Math.round(ratio);
  return near > 1 && Math.abs(12 * Math.log2(ratio / near)) < MULTIPLE_SEMITONES;
}

/**
 * The note of a stretch: what most of its clear frames have, or what its partials explain best. Where
 * one is a multiple of the other, partials of the lower one's own decide.
 */
export function pitchOf(sound: LineSound, from: number, to: number): number {
  const { track, activity } = sound;
  const periodic = mostOften(track, from, to);
  if (periodic.clarity < LEAST_CLEAR) return NaN;
  const span = { from: Math.min(from + START_SECONDS, to), to };
  const isClear = periodic.clarity >= SURELY_CLEAR;
  const explained = loudestNotes(activity, from, to, isClear ? 1 : CANDIDATES);
  if (explained.length === 0 || explained[0] === periodic.midi) return periodic.midi;
  const best = explained.reduce((a, b) => likelierOf(sound, a, b, span));
  return likelierOf(sound, best, periodic.midi, span, 1 - DOUBT * (1 - periodic.clarity));
}

/**
 * Which of two notes sounds: the one whose partials stand out more, if the other's do not by `least`. Of a
 * note and a multiple of it partials of the lower one's own decide.
 */
function likelierOf(sound: LineSound, a: number, b: number, span: Span, least = 1): number {
  if (a === b) return a;
  const [low, high] = [Math.min(a, b), Math.max(a, b)];
  if (isMultiple(low, high)) {
    const times = Math.round(2 ** ((high - low) / 12));
    return hasOwnPartials(sound, low, times, span.from, span.to - END_SECONDS) ? low : high;
  }
  return standOf(sound, { midi: b, ...span }) > least * standOf(sound, { midi: a, ...span }) ? b : a;
}

/**
 * Whether a note has partials besides those of the one at `times` its pitch: much of them, or more than one.
 * One alone may be a sub under the note.
 */
function hasOwnPartials(sound: LineSound, midi: number, times: number, from: number, to: number): boolean {
  const sizes = standsOf(sound, { midi, from, to }).map((size) => Math.max(0, size));
  const all = sum(sizes);
  const own = sizes.filter((_, i) => (i + 1) % times !== 0);
  if (sum(own) - Math.max(...own) > OWN_REST * all) return true;
  const others = sizes.filter((_, i) => (i + 1) % times === 0);
  return sum(own) > OWN_SHARE * all && sum(others) - Math.max(...others) < MANY_SHARE * sum(own);
}

/** Whether a note is its first partial only, as the tone of a drum is. */
export function isSine(sound: LineSound, { midi, from, to }: Stretch): boolean {
  // Higher up there may be a cymbal.
  const [first, ...others] = partialsOf(sound, { midi, from: Math.min(from + START_SECONDS, to), to }).slice(0, 6);
  return sum(others) < SINE_REST * first;
}

export const sum = (values: readonly number[]) => values.reduce((a, b) => a + b, 0);

/** Magnitudes of the partials of a note over a stretch of some periods at least. */
export function partialsOf(
  { mono, sampleRateHz }: LineSound,
  { midi, from, to }: Stretch,
  count = OWN_PARTIALS,
): number[] {
  const f0Hz = hzFromMidi(midi);
  const wanted = Math.round(Math.max(to - from, OWN_PERIODS / f0Hz) * sampleRateHz);
  const length = Math.min(mono.length, wanted);
  const start = Math.max(0, Math.min(mono.length - length, Math.round(from * sampleRateHz)));
  return partialMagnitudes(mono, start, length, (2 * Math.PI * f0Hz) / sampleRateHz, count);
}

/** The note that most of the clear frames of a stretch have, and how clear the clearest of them is. */
function mostOften({ seconds, f0Hz, clarity }: PitchTrack, from: number, to: number) {
  const shares = new Map<number, number>();
  const clarities = new Map<number, number>();
  for (let i = 0; i < seconds.length; i++) {
    if (seconds[i] < from + START_SECONDS || seconds[i] > to - END_SECONDS || !(f0Hz[i] > 0)) continue;
    const midi = Math.round(midiFromHz(f0Hz[i]));
    shares.set(midi, (shares.get(midi) ?? 0) + Math.max(0, clarity[i] - LEAST_CLARITY) ** 3);
    clarities.set(midi, Math.max(clarities.get(midi) ?? 0, clarity[i]));
  }
  let best = { midi: NaN, clarity: 0 };
  let most = 0;
  for (const [midi, share] of shares) {
    if (share <= most) continue;
    most = share;
    best = { midi, clarity: clarities.get(midi)! };
  }
  return best;
}

export const frameAt = ({ hopSeconds, count }: NoteActivity, seconds: number) =>
  Math.max(0, Math.min(count - 1, Math.round(seconds / hopSeconds)));

/** Sums of what every note has over a stretch. */
export function sumsOf(activity: NoteActivity, from: number, to: number): Float64Array {
  const { levels, noteCount } = activity;
  const sums = new Float64Array(noteCount);
  const last = frameAt(activity, to - END_SECONDS);
  for (let frame = frameAt(activity, from + START_SECONDS); frame <= last; frame++) {
    for (let n = 0; n < noteCount; n++) sums[n] += levels[frame * noteCount + n];
  }
  return sums;
}

/** The notes that have most over a stretch, most first. */
function loudestNotes(activity: NoteActivity, from: number, to: number, count: number): number[] {
  const sums = sumsOf(activity, from, to);
  return Array.from(sums.keys())
    .filter((n) => sums[n] > 0)
    .sort((a, b) => sums[b] - sums[a])
    .slice(0, count)
    .map((n) => LOWEST_MIDI + n);
}

/** How much each partial of a note stands out from what is halfway to the next ones. */
function standsOf(sound: LineSound, { midi, from, to }: Stretch, shape = (size: number) => size): number[] {
  const halves = partialsOf(sound, { midi: midi - 12, from, to }, 2 * OWN_PARTIALS + 1).map(shape);
  return Array.from(
    { length: (halves.length - 1) >> 1 },
    (_, n) => halves[2 * n + 1] - (halves[2 * n] + halves[2 * n + 2]) / 2,
  );
}

/** Of all partials: roots, so that many count for more than one loud one, which may be a body's. */
export const standOf = (sound: LineSound, stretch: Stretch) => sum(standsOf(sound, stretch, Math.sqrt));
