import { decibelsFromGain } from '../../dsp/decibels';
import { centsBetween, hzFromMidi, midiFromHz } from '../../dsp/pitch';
import type { Fundamental } from '../pitch/fundamental';
import { isOneChord, withOwnOnsets } from './chordOnsets';
import { findHits } from './hits';
import { findTuning } from '../piece/key';
import type { FittedContour } from '../level/fittedContour';
import type { LevelContour } from '../level/levelContour';
import { type PitchTrack, framesNear } from '../pitch/pitchTrack';
import type { ReadingNote } from '../schema';
import { LOWEST_MIDI, activitySteps } from './noteActivity';
import { hasFirstPartials } from '../partials/firstPartials';
import { type NoteSpectra, measureNoteSpectra } from '../partials/noteSpectra';
import { OVERTONES, type TrackedNote, trackNotes } from './noteTracking';
import { rootsAbove } from './lineRoot';
import { trackLine } from './lineTracking';
import { findOnsets } from './onsets';
import { startsAnew } from './startAnew';
import { strikeAt } from './strike';
import { echoOf } from '../space/echo';
import { mean, median } from '../statistics';
import { finish } from '../steps';

/** Pitch distance that makes another note. */
const NEW_NOTE_CENTS = 70;
const MIN_NOTE_SECONDS = 0.06;
/** Rise within the rise time that makes another onset of the same pitch. */
const RETRIGGER_DB = 9;
const RISE_SECONDS = 0.03;
/** A rise that stays this far under the loudest is more likely an echo than a note, −16 dB. */
const ECHO_RATIO = 0.16;

/** A sound and what was measured of it before. */
interface Sound {
  mono: Float64Array;
  sampleRateHz: number;
  track: PitchTrack;
  level: LevelContour;
  fundamental: Fundamental | undefined;
  fitted: FittedContour;
  /** Whether its lines are the sidebands of one tone: then it is one note, whatever they look like. */
  isSidebands?: boolean;
}

/**
 * Notes of a cut. One in which one pitch prevails and the level rises once is one note, as long as the fitted
 * contour says; of others it is worked out how much every note sounds, also of chords.
 */
export function findNotes(sound: Sound): ReadingNote[] {
  const { level, fundamental, fitted } = sound;
  const end = level.rms.length * level.hopSeconds;
  const onsets = findOnsets(sound.mono, sound.sampleRateHz);
  const isOne =
    fundamental !== undefined && isOneNote(sound, fundamental) && !isStruckAgain(sound, fundamental, onsets);
  const isStruckTogether = isOne && !isSideband(sound) && isChord(sound, fundamental);
  if (fundamental && (isSideband(sound) || (isOne && !isStruckTogether))) {
    const noteOff = fitted.noteOffSeconds ?? end;
    return [note(fitted.onsetSeconds, noteOff, midiFromHz(fundamental.f0Hz), fitted.fullRms)];
  }
  const notes = trackPhrase(sound, onsets, isStruckTogether);
  // A chord that is struck once ends as its level says, as a note does.
  return isStruckTogether && isOneChord(notes)
    ? notes.map((one) => heldUntil(one, fitted.noteOffSeconds ?? end))
    : notes;
}

const heldUntil = (found: ReadingNote, end: number): ReadingNote => ({
  ...found,
  durationSeconds: Math.max(found.durationSeconds, Math.round((end - found.onsetSeconds) * 1e5) / 1e5),
});

/** What is multiplied comes and goes within this time. */
const MULTIPLIED_SECONDS = 0.04;

function isSideband({ isSidebands, level }: Sound): boolean {
  if (!isSidebands) return false;
  const { rms, hopSeconds } = level;
  const reach = Math.round(MULTIPLIED_SECONDS / hopSeconds);
  const tops = rms.map((_, i) => rms.subarray(Math.max(0, i - reach), i + 1).reduce((a, b) => Math.max(a, b), 0));
  return levelRises({ ...level, rms: tops }, Math.max(...tops)).length <= 1;
}

/** Notes of a phrase or of chords, from how much each note sounds in each frame. */
function trackPhrase(
  { mono, sampleRateHz, track, fitted }: Sound,
  onsets: readonly number[],
  isStruckTogether: boolean,
): ReadingNote[] {
  const tuningCents = findTuning(mono, sampleRateHz);
  const spectra = measureNoteSpectra(mono, sampleRateHz);
  const activity = finish(activitySteps(spectra, sampleRateHz, tuningCents));
  const hits = findHits(mono, sampleRateHz, onsets);
  const line = isStruckTogether ? undefined : trackLine({ mono, sampleRateHz, track, activity, onsets, hits });
  const tracked = line ?? trackNotes(activity, onsets, hits);
  const above = line && rootsAbove(mono, sampleRateHz, line);
  const notes = tracked.map((found, i) => {
    const { onsetSeconds, endSeconds, midi, level } = found;
    const cents = centsOf(found, spectra, tuningCents);
    // A sum of partials' magnitudes is about the amplitude of a tone whose partials fall: its RMS is half of
    // it.
    return note(onsetSeconds, endSeconds, midi + (above?.[i] ?? 0) + cents / 100, level / 2);
  });
  // Notes of a line may be as short as what noise looks like, and are clear.
  if (line) return notes;
  return areNoise(notes) ? [] : withOwnOnsets(notes, mono, sampleRateHz, [fitted.onsetSeconds, ...onsets]);
}

/** What noise and hits look like: short, and at any pitch between the notes. */
const NOISE_SECONDS = 0.1;
const NOISE_CENTS = 1.5;

function areNoise(notes: readonly ReadingNote[]): boolean {
  const middle = median(notes.map(({ cents }) => cents));
  // One drum that comes again and again is always as far off.
  const scatter = mean(notes.map(({ cents }) => Math.abs(cents - middle)));
  return median(notes.map(({ durationSeconds }) => durationSeconds)) < NOISE_SECONDS && scatter > NOISE_CENTS;
}

/** Frames that are looked at to tell a chord from a note. */
const CHORD_FRAMES = 10;
const CHORD_SHARE = 0.5;

/**
 * Whether several notes sound whose common period, or nearly that, looks like a note: then one of them is no
 * partial of it, or nothing sounds at that note itself.
 */
function isChord({ mono, sampleRateHz, fitted, track }: Sound, { f0Hz }: Fundamental): boolean {
  const onset = Math.round(fitted.onsetSeconds * sampleRateHz);
  const held = mono.subarray(onset, onset + Math.round(CHORD_LOOK_SECONDS * sampleRateHz));
  const isClearTone = median(framesNear(track, f0Hz, NEW_NOTE_CENTS).map((i) => track.clarity[i])) > TONE_CLARITY;
  const hasFirst = hasFirstPartials(held, sampleRateHz, f0Hz);
  if (isClearTone && hasFirst) return false;
  const spectra = measureNoteSpectra(held, sampleRateHz, CHORD_FRAMES);
  const { levels, noteCount, count, hopSeconds } = finish(activitySteps(spectra, sampleRateHz, 0));
  const sums = new Float64Array(noteCount);
  for (let i = 0; i < levels.length; i++) sums[i % noteCount] += levels[i] / count;
  const top = Math.max(...sums);
  const sounding = Array.from(sums.keys()).filter((n) => sums[n] > CHORD_SHARE * top);
  if (sounding.length < 2) return false;
  const isNoPartial = (n: number) => {
    const midi = LOWEST_MIDI + n;
    const whole = { midi, onsetSeconds: 0, endSeconds: count * hopSeconds, level: sums[n] };
    const ratio = hzFromMidi(midi + centsOf(whole, spectra, 0) / 100) / f0Hz;
    return Math.abs(centsBetween(Math.max(1, Math.round(ratio)), ratio)) > NO_PARTIAL_CENTS;
  };
  if (!isClearTone && sounding.length > 2 && sounding.some(isNoPartial) && areTogether(levels, noteCount)) return true;
  if (hasFirst) return false;
  const own = Math.round(midiFromHz(f0Hz)) - LOWEST_MIDI;
  // A note whose first partial is weak, or lies under what is looked at, sounds at its octave.
  const atNote = (n: number) => Math.abs(n - own) <= 1 || Math.abs(n - own - 12) <= 1;
  if (sounding.some(atNote)) return false;
  // Of a tone without its first partials some of the next may pass for notes.
  return sounding[0] - own >= THIRD_PARTIAL || sounding.some((n) => !OVERTONES.includes(n - own));
}

/** Whether most frames have notes at once that are no partials of the lowest: a line has one at a time. */
function areTogether(levels: Float32Array, noteCount: number): boolean {
  const frames = Array.from({ length: levels.length / noteCount }, (_, frame) =>
    levels.subarray(frame * noteCount, (frame + 1) * noteCount),
  );
  const chordal = frames.filter((frame) => {
    const top = Math.max(...frame);
    const [lowest, ...others] = Array.from(frame.keys()).filter((n) => frame[n] > CHORD_SHARE * top);
    return others.some((n) => !OVERTONES.includes(n - lowest));
  });
  return chordal.length > frames.length / 2;
}

/** One tone repeats itself more truly than this, also under hiss or of voices that fight. */
const TONE_CLARITY = 0.9;
/** Voices spread around a note stay nearer to its partials than this. */
const NO_PARTIAL_CENTS = 35;
const CHORD_LOOK_SECONDS = 1.5;
const THIRD_PARTIAL = 19;

/** Share of the clear frames that must have the cut's pitch for it to be one note. */
const PREVAILING = 0.75;

function isOneNote(sound: Sound, { f0Hz }: Fundamental): boolean {
  const { track, level } = sound;
  const loudest = level.rms.reduce((a, b) => Math.max(a, b), 0);
  const clear = track.f0Hz.filter((_, i) => isClear(track, i, loudest)).length;
  const near = framesNear(track, f0Hz, NEW_NOTE_CENTS).length;
  if (near < PREVAILING * clear && !swings(track, f0Hz, clear)) return false;
  const rises = levelRises(level, loudest);
  if (rises.length <= 1 || isGated(sound, f0Hz, rises)) return true;
  // Of echoes the softest tell as much as the loudest, where nothing else is as soft.
  if (ECHO_RATIOS.some((ratio) => areEchoes(level, levelRises(level, loudest, ratio)))) return true;
  // Over what still sounds of the note its later echoes may rise by too little to count.
  return areOfEcho(sound, rises.slice(1));
}

/** A tremolo, however steep, leaves something of the tone, keeps its phases and is even. */
const GATED_COHERENCE = 0.8;
const GATED_LEAST_DB = -26;
const UNEVEN_GATE = 0.08;

/** Whether a tone goes on while its level comes and goes by itself. */
function isGated({ mono, sampleRateHz, level }: Sound, f0Hz: number, rises: readonly number[]): boolean {
  if (rises.length < 3) return false;
  if (rises.slice(1).every((at) => startsAnew(mono, sampleRateHz, f0Hz, at + RISE_SECONDS / 2))) return false;
  const gaps = rises.slice(1).map((at, i) => at - rises[i]);
  const gap = median(gaps);
  const { rms, hopSeconds } = level;
  const loudest = rms.reduce((a, b) => Math.max(a, b), 0);
  return rises.slice(1).every((at, i) => {
    const before = rms[Math.max(0, Math.round(at / hopSeconds))] / loudest;
    // A note may begin anywhere in a turn.
    const isEven = i === 0 || Math.abs(gaps[i] / gap - Math.max(1, Math.round(gaps[i] / gap))) < UNEVEN_GATE;
    return (
      isEven &&
      decibelsFromGain(before) > GATED_LEAST_DB &&
      strikeAt(mono, sampleRateHz, f0Hz, at + RISE_SECONDS / 2).coherence > GATED_COHERENCE
    );
  });
}

/** A moment that is told as the attack's own. */
const ATTACK_SECONDS = 0.06;
/** Movements of a tone keep its partials' phases, and do not rise at once. */
const STRUCK_COHERENCE = 0.5;
const STRUCK_DB = 1;

/** Whether a note of one pitch is several that were struck, however little the level falls between them. */
function isStruckAgain(sound: Sound, { f0Hz }: Fundamental, onsets: readonly number[]): boolean {
  const { mono, sampleRateHz, track, level, fitted } = sound;
  // Where the pitch itself moves phases say nothing.
  if (moves(track, framesNear(track, f0Hz, SWING_CENTS))) return false;
  const later = onsets.filter((at) => at > fitted.onsetSeconds + fitted.attackSeconds + ATTACK_SECONDS);
  const struck = later.filter((at) => {
    if (startsAnew(mono, sampleRateHz, f0Hz, at)) return true;
    const { coherence, riseDb } = strikeAt(mono, sampleRateHz, f0Hz, at);
    return coherence < STRUCK_COHERENCE && riseDb > STRUCK_DB;
  });
  return struck.length > 0 && !areEchoes(level, [fitted.onsetSeconds, ...struck]) && !areOfEcho(sound, struck);
}

/** A moment that is told stands this near to where it was. */
const OFF_SECONDS = 0.04;

/** Whether moments are the repeats of the echo that the level as a whole tells of. */
function areOfEcho({ level, fitted }: Sound, moments: readonly number[]): boolean {
  const found = echoOf(level, null);
  if (!found) return false;
  const { seconds } = found.echo;
  return moments.every((at) => {
    const turns = (at - fitted.onsetSeconds) / seconds;
    return Math.abs(turns - Math.max(1, Math.round(turns))) * seconds < OFF_SECONDS;
  });
}

/** A deep vibrato moves nearly all the time, where notes that alternate stand still. */
const SWING_CENTS = 300;
const SWING_SHARE = 0.9;
const MOVING_CENTS = 3;
const MOVING_SHARE = 0.6;

function swings(track: PitchTrack, f0Hz: number, clear: number): boolean {
  const frames = framesNear(track, f0Hz, SWING_CENTS);
  return frames.length >= SWING_SHARE * clear && moves(track, frames);
}

/** Whether a pitch moves from frame to frame nearly all the time. */
function moves(track: PitchTrack, frames: readonly number[]): boolean {
  const steps = frames.slice(1).map((i, k) => Math.abs(centsBetween(track.f0Hz[frames[k]], track.f0Hz[i])));
  return steps.filter((cents) => cents > MOVING_CENTS).length > MOVING_SHARE * steps.length;
}

const ECHO_RATIOS = [ECHO_RATIO, 0.05, 0.01];
const EVEN_ECHOES = 0.05;
const LEAST_ECHO_FALL_DB = 0.8;
/** Repeats fall by the same from each to the next but the first, which may be mixed at any level. */
const ECHO_FALL_SCATTER_DB = 2.5;

/** Whether rises are the repeats of one: evenly apart, and each softer than the one before. */
function areEchoes({ rms, hopSeconds }: LevelContour, rises: readonly number[]): boolean {
  if (rises.length < 3) return false;
  const gaps = rises.slice(1).map((at, i) => at - rises[i]);
  const gap = median(gaps);
  const uneven = gaps.filter((other, i) => {
    // What rises at the very start may have done so before it.
    const slack = i === 0 && rises[0] < RISE_SECONDS ? RISE_SECONDS : 2 * hopSeconds;
    return Math.abs(other - gap) > Math.max(EVEN_ECHOES * gap, slack);
  });
  if (uneven.length > 0) return false;
  const peaks = rises.map((at) => {
    const stretch = rms.subarray(Math.round(at / hopSeconds), Math.round((at + 0.8 * gap) / hopSeconds));
    return decibelsFromGain(stretch.reduce((a, b) => Math.max(a, b), 0));
  });
  const falls = peaks.slice(1).map((db, i) => peaks[i] - db);
  const later = falls.length > 1 ? falls.slice(1) : falls;
  return (
    falls.every((fall) => fall > LEAST_ECHO_FALL_DB) && Math.max(...later) - Math.min(...later) < ECHO_FALL_SCATTER_DB
  );
}

const isClear = (track: PitchTrack, i: number, loudest: number) =>
  track.clarity[i] > 0.6 && track.rms[i] > 0.03 * loudest;

function levelRises({ rms, hopSeconds }: LevelContour, loudest: number, leastRatio = ECHO_RATIO): number[] {
  const span = Math.max(1, Math.round(RISE_SECONDS / hopSeconds));
  const rises: number[] = [];
  for (let i = span; i < rms.length; i++) {
    const rise = decibelsFromGain(rms[i] / loudest, -60) - decibelsFromGain(rms[i - span] / loudest, -60);
    const at = (i - span) * hopSeconds;
    if (
      rise >= RETRIGGER_DB &&
      rms[i] > leastRatio * loudest &&
      at - (rises[rises.length - 1] ?? -1) > MIN_NOTE_SECONDS
    )
      rises.push(at);
  }
  return rises;
}

const FINE_PARTIALS = 8;
const FINE_CENTS = 45;

/**
 * How far a note stands from its number, cents: weighted mean of its partials' peaks, by parabolas through
 * three bins.
 */
function centsOf({ midi, onsetSeconds, endSeconds }: TrackedNote, spectra: NoteSpectra, tuningCents: number): number {
  const { hopSeconds, bins, hz, levels, count } = spectra;
  const from = Math.min(count - 1, Math.ceil(onsetSeconds / hopSeconds));
  const to = Math.min(count, Math.max(from + 1, Math.floor(endSeconds / hopSeconds)));
  const mean = new Float64Array(bins);
  for (let frame = from; frame < to; frame++) for (let k = 0; k < bins; k++) mean[k] += levels[frame * bins + k];
  const expected = hzFromMidi(midi + tuningCents / 100);
  let sum = 0;
  let weights = 0;
  for (let n = 1; n <= FINE_PARTIALS; n++) {
    const place = hz.findIndex((at) => at >= n * expected);
    if (place < 1) break;
    const top = [place - 1, place, place + 1].reduce((a, b) => ((mean[b] ?? 0) > mean[a] ? b : a));
    const [before, at, after] = [mean[top - 1], mean[top], mean[top + 1]].map((x) => Math.log((x ?? 0) + 1e-12));
    const curvature = before - 2 * at + after;
    // What rises towards the lowest bin has its top under it.
    if (top < 1 || !(curvature < 0) || at < before || at < after) continue;
    const shift = (0.5 * (before - after)) / curvature;
    const cents = 1200 * Math.log2((hz[top] + shift * (hz[top] - hz[top - 1])) / (n * expected));
    if (Math.abs(cents) > FINE_CENTS) continue;
    // The higher the partial, the finer it tells.
    const weight = n * mean[top];
    sum += weight * cents;
    weights += weight;
  }
  return tuningCents + (weights > 0 ? sum / weights : 0);
}

/** The note that a frequency is nearest to, and how far it stands from it. */
export const noteNumber = (hz: number) => numberOf(midiFromHz(hz));

function numberOf(exact: number) {
  const midi = Math.min(127, Math.max(0, Math.round(exact)));
  return { midi, cents: Math.round((exact - midi) * 1000) / 10 };
}

function note(onset: number, end: number, exact: number, rms: number): ReadingNote {
  const seconds = (value: number) => Math.round(value * 1e5) / 1e5;
  return {
    onsetSeconds: seconds(onset),
    durationSeconds: seconds(Math.max(0.01, end - onset)),
    ...numberOf(exact),
    levelDb: Math.round(decibelsFromGain(rms) * 10) / 10,
  };
}
