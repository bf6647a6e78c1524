import { hasFirstPartials } from '../partials/firstPartials';
import { hzFromMidi } from '../../dsp/pitch';
import { median, quantile, rmsWithin } from '../statistics';
import { type Phrase, isStruck, withSteps } from './lineSteps';
import { LOWEST_MIDI, type NoteActivity } from './noteActivity';
import { OVERTONES, type TrackedNote } from './noteTracking';
import { endBefore } from './startAnew';
import {
  END_SECONDS,
  type LineSound,
  START_SECONDS,
  type Stretch,
  frameAt,
  isMultiple,
  isSine,
  partialsOf,
  standOf,
  sum,
  sumsOf,
} from './stretchPitch';
import { LEAST_SHARE, MIN_SECONDS, stretchesOf } from './stretches';

/** A note ends where this share of its own highest is left. */
const END_SHARE = 0.12;
/** What lies this low, and so far under a line, is a drum's. */
const LOWEST_LINE_MIDI = 45;
const LINE_SEMITONES = 16;
/** From and to where levels around a moment are looked at. */
const AROUND_SECONDS = 0.008;
const LOOKED_SECONDS = 0.05;
/** Another voice has this share of what the line's own note has, and is none of its partials. */
const VOICE_SHARE = 0.75;
const VOICE_STAND = 0.75;
/** Of noise an eighth of what is at a note's partials stands out, in the middle; of notes half and more. */
const LEAST_STAND = 0.25;
/** In a line other voices are found in no more than this share of the time. */
const LINE_SHARE = 0.25;

/**
 * Notes of a line, of which one sounds at a time: what starts is told first, then the pitch of each stretch,
 * and whether a stretch of the same pitch as the one before was struck (our own arrangement). Undefined where
 * several voices sound.
 */
export function trackLine(sound: LineSound): TrackedNote[] | undefined {
  const phrase = withSteps(sound);
  const { activity, mono, sampleRateHz } = phrase;
  const strength = strengthOf(activity);
  const end = mono.length / sampleRateHz;
  const loudest = quantile(
    Array.from({ length: activity.count }, (_, frame) => topOf(activity, frame)),
    0.95,
  );
  if (!(loudest > 0)) return undefined;
  const stretches = stretchesOf(phrase, end);
  const levels = stretches.map(({ from, to }) => rmsWithin(mono, sampleRateHz, from + START_SECONDS, to - END_SECONDS));
  const heard = stretches.filter(
    ({ from, to, midi }, i) =>
      Number.isFinite(midi) &&
      levels[i] > LEAST_SHARE * Math.max(...levels) &&
      strength(midi, from, to) > LEAST_SHARE * loudest,
  );
  // As many as half of them may be drums.
  const usual = quantile(
    heard.map(({ midi }) => midi),
    0.7,
  );
  const told = heard.filter(
    (stretch) => stretch.midi > LOWEST_LINE_MIDI || stretch.midi > usual - LINE_SEMITONES || !isSine(phrase, stretch),
  );
  if (told.length === 0 || !isLine(phrase, told)) return undefined;

  const notes: Stretch[] = [];
  for (const stretch of told) {
    const before = notes[notes.length - 1];
    const follows = before !== undefined && stretch.from - before.to < 1e-6;
    const goesOn = follows && before.midi === stretch.midi && !isStruck(phrase, stretch);
    // Tails lose their lower or their higher partials first.
    const rings = follows && isMultiple(before.midi, stretch.midi) && falls(phrase, stretch.from);
    if (goesOn || rings) before.to = stretch.to;
    else notes.push({ ...stretch });
  }
  return notes
    .map((note, i) => ({
      midi: note.midi,
      onsetSeconds: note.from,
      endSeconds: endOf(activity, { ...note, to: letGo(phrase, note, notes[i + 1]) }),
      level: strength(note.midi, note.from, note.to),
    }))
    .filter(({ onsetSeconds, endSeconds }) => endSeconds - onsetSeconds >= MIN_SECONDS);
}

/** Whether a sound is softer behind a moment than before it. */
function falls({ mono, sampleRateHz }: Phrase, seconds: number): boolean {
  const before = rmsWithin(mono, sampleRateHz, seconds - LOOKED_SECONDS, seconds - AROUND_SECONDS);
  return rmsWithin(mono, sampleRateHz, seconds + AROUND_SECONDS, seconds + LOOKED_SECONDS) < before;
}

function topOf({ levels, noteCount }: NoteActivity, frame: number): number {
  let top = 0;
  for (let n = 0; n < noteCount; n++) top = Math.max(top, levels[frame * noteCount + n]);
  return top;
}

/** What a note and those that its partials may be taken for have in a frame. */
function levelWithOvertones({ levels, noteCount }: NoteActivity, midi: number, frame: number): number {
  let sum = 0;
  for (const up of [0, ...OVERTONES]) {
    const n = midi + up - LOWEST_MIDI;
    if (n >= 0 && n < noteCount) sum += levels[frame * noteCount + n];
  }
  return sum;
}

/** The highest that a note reaches within a stretch. */
const strengthOf = (activity: NoteActivity) => (midi: number, from: number, to: number) => {
  let most = 0;
  for (let frame = frameAt(activity, from); frame <= frameAt(activity, to); frame++)
    most = Math.max(most, levelWithOvertones(activity, midi, frame));
  return most;
};

function endOf(activity: NoteActivity, { midi, from, to }: Stretch): number {
  let most = 0;
  let last = frameAt(activity, from);
  for (let frame = last; frame <= frameAt(activity, to); frame++) {
    const level = levelWithOvertones(activity, midi, frame);
    most = Math.max(most, level);
    if (level > END_SHARE * most) last = frame;
  }
  return Math.min(to, (last + 1) * activity.hopSeconds);
}

/** When a note was let go before the next one of a line begins, at the latest when that does. */
function letGo({ mono, sampleRateHz }: Phrase, { midi, from, to }: Stretch, next: Stretch | undefined): number {
  if (!next) return to;
  return Math.min(to, endBefore(mono, sampleRateHz, hzFromMidi(midi), from, next.from) ?? to);
}

/** Whether notes stand out, and no other voice is nearly as loud as the line for long. */
function isLine(phrase: Phrase, told: readonly Stretch[]): boolean {
  const { activity, mono, sampleRateHz } = phrase;
  let voices = 0;
  let whole = 0;
  const clear: number[] = [];
  for (const stretch of told) {
    const { from, midi } = stretch;
    // The last stretch ends with the sound, long after its note.
    const to = Math.max(from + MIN_SECONDS, endOf(activity, stretch));
    const sums = sumsOf(activity, from, to);
    const stand = standOf(phrase, { midi, from, to });
    clear.push(stand / sum(partialsOf(phrase, { midi, from, to }).map(Math.sqrt)));
    const own = sums.reduce((sum, level, n) => (isOwn(LOWEST_MIDI + n - midi) ? Math.max(sum, level) : sum), 0);
    const others = sums.some((level, n) => {
      const other = LOWEST_MIDI + n;
      if (isOwn(other - midi) || level <= VOICE_SHARE * own) return false;
      // A body's rumble, a drum's tone and what is left of the note before have few partials that stand out.
      return standOf(phrase, { midi: other, from, to }) > VOICE_STAND * stand;
    });
    // Of a chord's common period the first partials are missing.
    const held = mono.subarray(Math.round((from + START_SECONDS) * sampleRateHz), Math.round(to * sampleRateHz));
    const common = held.length > 0 && !hasFirstPartials(held, sampleRateHz, hzFromMidi(midi));
    whole += to - from;
    if (others || common) voices += to - from;
  }
  return median(clear) > LEAST_STAND && voices < LINE_SHARE * whole;
}

/** Whether a distance from the line's note is that of itself, of a neighbour, or of a partial. */
const isOwn = (semitones: number) =>
  [-24, -19, -12, 0, ...OVERTONES].some((distance) => Math.abs(semitones - distance) <= 1);
