import { partialMagnitudes } from '../../dsp/harmonics';
import { hzFromMidi, midiFromHz } from '../../dsp/pitch';
import { hasFirstPartials } from '../partials/firstPartials';
import type { PitchTrack } from '../pitch/pitchTrack';
import { quantile, rmsOf } from '../statistics';
import { LOWEST_MIDI, type NoteActivity } from './noteActivity';
import { OVERTONES, type TrackedNote } from './noteTracking';
import { type Pulse, findPulse, tonalRises } from './pulse';
import { strikeAt, tonalChange } from './strike';

/** A sound, and what was found of its notes before. */
interface Sound {
  mono: Float64Array;
  sampleRateHz: number;
  track: PitchTrack;
  activity: NoteActivity;
  /** Times at which something starts, rising. */
  onsets: readonly number[];
  /** Those of them at which a short noise sounds. */
  hits: readonly number[];
}

interface Phrase extends Sound {
  pulse: Pulse | undefined;
  /** Of the onsets those at steps of the pulse at which what usually begins a note is heard. */
  steps: ReadonlySet<number>;
}

/** The start of a note says little about its pitch, and the end of a stretch sees the next one. */
const START_SECONDS = 0.025;
const END_SECONDS = 0.01;
/** Frames this unclear have no say, and a stretch without clear ones has no pitch from them. */
const LEAST_CLARITY = 0.3;
const CLEAR = 0.55;
const LEAST_CLEAR = 0.4;
/** Of what two notes' partials hold, an unclear period has to have the more. */
const DOUBT = 0.5;
/** A period this clear is that of a note; beside others so many of the notes that have most are looked at. */
const SURELY_CLEAR = 0.9;
const CANDIDATES = 6;
/** A pitch that changes without an onset has to be there for so long. */
const SLURRED_SECONDS = 0.05;
const SLUR_START_SECONDS = 0.045;
const SLURRED_SEMITONES = 0.7;
/** What stays under this share of the loudest is no note. */
const LEAST_SHARE = 0.06;
/** A note ends where this share of its own highest is left. */
const END_SHARE = 0.12;
const MIN_SECONDS = 0.045;
/** What lies this low, and so far under a line, is a drum's. */
const LOWEST_LINE_MIDI = 45;
const LINE_SEMITONES = 16;
/** From and to where levels around a moment are looked at. */
const AROUND_SECONDS = 0.008;
const LOOKED_SECONDS = 0.05;
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
/** Another voice has this share of what the line's own note has, and is none of its partials. */
const VOICE_SHARE = 0.75;
const VOICE_STAND = 0.75;
/** In a line other voices are found in no more than this share of the time. */
const LINE_SHARE = 0.25;
/** An onset is a new note of the same pitch unless partials go on where they were, hardly louder. */
const STRUCK_DB = 1.5;
const RENEWED_COHERENCE = 0.8;
/** At a hit noise is in all of this: it counts where the note is clear of it. */
const PURE = 0.6;
const TONAL_DB = 1.5;
const HIT_COHERENCE = 0.5;

/** From one start to the next. */
interface Span {
  from: number;
  to: number;
}

interface Stretch extends Span {
  midi: number;
}

/**
 * Notes of a line, of which one sounds at a time: what starts is told first, then the pitch of each stretch,
 * and whether a stretch of the same pitch as the one before was struck (our own arrangement). Undefined where
 * several voices sound.
 */
export function trackLine(sound: Sound): TrackedNote[] | undefined {
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
    .map((note) => ({
      midi: note.midi,
      onsetSeconds: note.from,
      endSeconds: endOf(activity, note),
      level: strength(note.midi, note.from, note.to),
    }))
    .filter(({ onsetSeconds, endSeconds }) => endSeconds - onsetSeconds >= MIN_SECONDS);
}

/** So much of what usually begins a note begins one. */
const LIKE_START = 0.35;
/** Onsets are told this far off the step that they are at. */
const OFF_STEP_SECONDS = 0.08;
const OFF_STEP_SHARE = 0.3;
/** Those that are no further off are more exact than the step. */
const EXACT_SECONDS = 0.025;
/** Where this share of the onsets are hits what comes round is looked for in the tone alone. */
const MANY_HITS = 0.6;
const BEFORE_SECONDS = 0.03;

/** Adds the steps of the line's pulse at which notes begin that are not among the onsets. */
function withSteps(sound: Sound): Phrase {
  const { mono, sampleRateHz, onsets, hits } = sound;
  const unaware = { ...sound, pulse: undefined, steps: new Set<number>() };
  const pulse =
    hits.length < MANY_HITS * onsets.length
      ? findPulse(mono, sampleRateHz, onsets)
      : findPulse(mono, sampleRateHz, onsets, tonalRises(mono, sampleRateHz, pitchOver(unaware)));
  if (!pulse) return unaware;
  const { stepSeconds, firstSeconds, likeness } = pulse;
  const reach = Math.min(OFF_STEP_SECONDS, OFF_STEP_SHARE * stepSeconds);
  const steps = new Set<number>();
  const others = new Set(onsets);
  for (let at = firstSeconds; at < mono.length / sampleRateHz; at += stepSeconds) {
    if (likeness(at) < LIKE_START) continue;
    const told = onsets.filter((onset) => Math.abs(onset - at) < reach);
    const near = told.filter((onset) => Math.abs(onset - at) < EXACT_SECONDS);
    steps.add(near.length === 0 ? at : near.reduce((a, b) => (Math.abs(b - at) < Math.abs(a - at) ? b : a)));
    for (const onset of told) others.delete(onset);
  }
  return { ...sound, onsets: [...others, ...steps].sort((a, b) => a - b), pulse, steps };
}

/** The frequency of the line as far as its onsets tell it, a little before each on. */
function pitchOver(phrase: Phrase): (seconds: number) => number {
  const stretches = stretchesOf(phrase, phrase.mono.length / phrase.sampleRateHz);
  return (seconds) => {
    const at = stretches.findLast(({ from }) => from < seconds + BEFORE_SECONDS) ?? stretches[0];
    return at ? hzFromMidi(at.midi) : NaN;
  };
}

function isStruck({ mono, sampleRateHz, hits, pulse, steps }: Phrase, { midi, from }: Stretch): boolean {
  if (steps.has(from)) return true;
  // Between steps nothing begins that does not begin as notes of this line do.
  if (pulse && pulse.likeness(from) < LIKE_START) return false;
  const f0Hz = hzFromMidi(midi);
  const { coherence, riseDb } = strikeAt(mono, sampleRateHz, f0Hz, from);
  if (!hits.includes(from)) return riseDb > STRUCK_DB || coherence < RENEWED_COHERENCE;
  const tonal = tonalChange(mono, sampleRateHz, f0Hz, from);
  return tonal.purity > PURE && (tonal.riseDb > TONAL_DB || riseDb > STRUCK_DB || coherence < HIT_COHERENCE);
}

/** Whether a sound is softer behind a moment than before it. */
function falls({ mono, sampleRateHz }: Phrase, seconds: number): boolean {
  const before = rmsWithin(mono, sampleRateHz, seconds - LOOKED_SECONDS, seconds - AROUND_SECONDS);
  return rmsWithin(mono, sampleRateHz, seconds + AROUND_SECONDS, seconds + LOOKED_SECONDS) < before;
}

const rmsWithin = (mono: Float64Array, sampleRateHz: number, from: number, to: number) =>
  rmsOf(mono, Math.max(0, Math.round(from * sampleRateHz)), Math.round(to * sampleRateHz));

/** The stretches between starts, each with its pitch; those of slurred notes are parted where it changes. */
function stretchesOf(phrase: Phrase, end: number): Stretch[] {
  const begins = firstSound(phrase);
  // A cut may begin while a note sounds.
  const onsets = phrase.onsets.some((at) => at < begins + MIN_SECONDS) ? phrase.onsets : [begins, ...phrase.onsets];
  return onsets.flatMap((from, i) => {
    const to = onsets[i + 1] ?? end;
    const parts = slursWithin(phrase.track, from, to);
    return parts.map((start, k) => {
      const stop = parts[k + 1] ?? to;
      return { from: start, to: stop, midi: pitchOf(phrase, start, stop) };
    });
  });
}

function firstSound({ track }: Phrase): number {
  const loudest = track.rms.reduce((a, b) => Math.max(a, b), 0);
  const frame = track.rms.findIndex((rms) => rms > LEAST_SHARE * loudest);
  // Frames are known by their middle.
  return Math.max(0, track.seconds[Math.max(0, frame)] - (track.seconds[0] ?? 0));
}

/** Where a stretch and its slurred notes begin. */
function slursWithin({ seconds, f0Hz, clarity }: PitchTrack, from: number, to: number): number[] {
  const starts = [from];
  let current = NaN;
  let candidate = NaN;
  let since = 0;
  for (let i = 0; i < seconds.length; i++) {
    // Frames that see the note before are between the two.
    if (seconds[i] < from + SLUR_START_SECONDS || seconds[i] > to - END_SECONDS || !(clarity[i] > CLEAR)) continue;
    const pitch = midiFromHz(f0Hz[i]);
    if (Number.isNaN(current)) current = pitch;
    if (Math.abs(pitch - current) < SLURRED_SEMITONES) candidate = NaN;
    else if (Math.abs(pitch - candidate) < SLURRED_SEMITONES) {
      if (seconds[i] - since < SLURRED_SECONDS || isMultiple(pitch, current)) continue;
      starts.push(since);
      current = pitch;
      candidate = NaN;
    } else {
      candidate = pitch;
      since = seconds[i];
    }
  }
  return starts;
}

/** Whether one pitch is about a whole number of times the other: errors of a pitch track are. */
function isMultiple(a: number, b: number): boolean {
  const ratio = 2 ** (Math.abs(a - b) / 12);
  const near = Math.round(ratio);
  return near > 1 && Math.abs(12 * Math.log2(ratio / near)) < MULTIPLE_SEMITONES;
}

/**
 * The note of a stretch: what most of its clear frames have, or what its partials explain best. Where
 * one is a multiple of the other, partials of the lower one's own decide.
 */
function pitchOf(phrase: Phrase, from: number, to: number): number {
  const { track, activity } = phrase;
  const periodic = mostOften(track, from, to);
  if (periodic.clarity < LEAST_CLEAR) return NaN;
  const span = { from: Math.min(from + START_SECONDS, to), to };
  const isClear = periodic.clarity >= SURELY_CLEAR;
  const explained = loudestNotes(activity, from, to, isClear ? 1 : CANDIDATES);
  if (explained.length === 0 || explained[0] === periodic.midi) return periodic.midi;
  const best = explained.reduce((a, b) => likelierOf(phrase, a, b, span));
  return likelierOf(phrase, best, periodic.midi, span, 1 - DOUBT * (1 - periodic.clarity));
}

/**
 * Which of two notes sounds: the one whose partials stand out more, if the other's do not by `least`. Of a
 * note and a multiple of it partials of the lower one's own decide.
 */
function likelierOf(phrase: Phrase, a: number, b: number, span: Span, least = 1): number {
  if (a === b) return a;
  const [low, high] = [Math.min(a, b), Math.max(a, b)];
  if (isMultiple(low, high)) {
    const times = Math.round(2 ** ((high - low) / 12));
    return hasOwnPartials(phrase, low, times, span.from, span.to - END_SECONDS) ? low : high;
  }
  return standOf(phrase, { midi: b, ...span }) > least * standOf(phrase, { midi: a, ...span }) ? b : a;
}

/**
 * Whether a note has partials besides those of the one at `times` its pitch: much of them, or more than one.
 * One alone may be a sub under the note.
 */
function hasOwnPartials(phrase: Phrase, midi: number, times: number, from: number, to: number): boolean {
  const sizes = standsOf(phrase, { midi, from, to }).map((size) => Math.max(0, size));
  const all = sum(sizes);
  const own = sizes.filter((_, i) => (i + 1) % times !== 0);
  if (sum(own) - Math.max(...own) > OWN_REST * all) return true;
  const others = sizes.filter((_, i) => (i + 1) % times === 0);
  return sum(own) > OWN_SHARE * all && sum(others) - Math.max(...others) < MANY_SHARE * sum(own);
}

/** Whether a note is its first partial only, as the tone of a drum is. */
function isSine(phrase: Phrase, { midi, from, to }: Stretch): boolean {
  // Higher up there may be a cymbal.
  const [first, ...others] = partialsOf(phrase, { midi, from: Math.min(from + START_SECONDS, to), to }).slice(0, 6);
  return sum(others) < SINE_REST * first;
}

const sum = (values: readonly number[]) => values.reduce((a, b) => a + b, 0);

/** Magnitudes of the partials of a note over a stretch of some periods at least. */
function partialsOf({ mono, sampleRateHz }: Phrase, { midi, from, to }: Stretch, count = OWN_PARTIALS): number[] {
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

const frameAt = ({ hopSeconds, count }: NoteActivity, seconds: number) =>
  Math.max(0, Math.min(count - 1, Math.round(seconds / hopSeconds)));

/** Sums of what every note has over a stretch. */
function sumsOf(activity: NoteActivity, from: number, to: number): Float64Array {
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
function standsOf(phrase: Phrase, { midi, from, to }: Stretch, shape = (size: number) => size): number[] {
  const halves = partialsOf(phrase, { midi: midi - 12, from, to }, 2 * OWN_PARTIALS + 1).map(shape);
  return Array.from({ length: (halves.length - 1) >> 1 }, (_, n) => halves[2 * n + 1] - (halves[2 * n] + halves[2 * n + 2]) / 2);
}

/** Of all partials: roots, so that many count for more than one loud one, which may be a body's. */
const standOf = (phrase: Phrase, stretch: Stretch) => sum(standsOf(phrase, stretch, Math.sqrt));

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

/** Whether no other voice is nearly as loud as the line for long. */
function isLine(phrase: Phrase, told: readonly Stretch[]): boolean {
  const { activity, mono, sampleRateHz } = phrase;
  let voices = 0;
  let whole = 0;
  for (const stretch of told) {
    const { from, midi } = stretch;
    // The last stretch ends with the sound, long after its note.
    const to = Math.max(from + MIN_SECONDS, endOf(activity, stretch));
    const sums = sumsOf(activity, from, to);
    const own = sums.reduce((sum, level, n) => (isOwn(LOWEST_MIDI + n - midi) ? Math.max(sum, level) : sum), 0);
    const others = sums.some((level, n) => {
      const other = LOWEST_MIDI + n;
      if (isOwn(other - midi) || level <= VOICE_SHARE * own) return false;
      // A body's rumble, a drum's tone and what is left of the note before have few partials that stand out.
      return standOf(phrase, { midi: other, from, to }) > VOICE_STAND * standOf(phrase, { midi, from, to });
    });
    // Of a chord's common period the first partials are missing.
    const held = mono.subarray(Math.round((from + START_SECONDS) * sampleRateHz), Math.round(to * sampleRateHz));
    const common = held.length > 0 && !hasFirstPartials(held, sampleRateHz, hzFromMidi(midi));
    whole += to - from;
    if (others || common) voices += to - from;
  }
  return voices < LINE_SHARE * whole;
}

/** Whether a distance from the line's note is that of itself, of a neighbour, or of a partial. */
const isOwn = (semitones: number) =>
  [-24, -19, -12, 0, ...OVERTONES].some((distance) => Math.abs(semitones - distance) <= 1);
