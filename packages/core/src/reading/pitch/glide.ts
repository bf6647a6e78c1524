import { hzFromMidi, midiFromHz } from '../../dsp/pitch';
import { trackFinePitch } from './finePitch';
import type { PitchTrack } from './pitchTrack';
import type { ReadingNote } from '../schema';
import { median } from '../statistics';

/** A pitch that stands still for a while. */
interface Plateau {
  midi: number;
  fromSeconds: number;
  toSeconds: number;
}

/** The way of the pitch from one note to the next. */
export interface Slide {
  fromMidi: number;
  toMidi: number;
  /** Middle of the way. */
  middleSeconds: number;
  /** Of the whole way as a straight line: the time between a tenth and nine tenths of it, over 0.8. */
  seconds: number;
}

const STILL_SEMITONES = 0.3;
const LEAST_STILL_SECONDS = 0.06;
const LEAST_CLARITY = 0.5;
const LEAST_SEMITONES = 0.9;
/** A longer way is a bend of its own, not a glide. */
const LONGEST_SECONDS = 0.8;
const MOST_LOOKED = 24;
/** What is seen of a way must be more than what frames make of a step. */
const LEAST_WINDOWS = 1.6;
/** What a window adds to a way, by squares. */
const BLUR_WINDOWS = 0.5;
const WINDOW_PERIODS = 2;
/** Two notes that overlap change places within a frame or two; a slide's frames lie all along its way. */
const LEAST_EVEN = 0.75;
/** Levels that fall by more between two notes part them. */
const PAUSE_RATIO = 0.1;

/**
 * The ways between the notes of a line that sounds on, in order of time (our own rule): between places where
 * a coarse track stands still, the pitch is followed by the phases of its partials.
 */
export function findSlides(mono: Float64Array, sampleRateHz: number, track: PitchTrack): Slide[] {
  const plateaus = plateausOf(track);
  const ways = plateaus
    .slice(1)
    .map((to, i) => ({ from: plateaus[i], to }))
    .filter(
      ({ from, to }) =>
        Math.abs(to.midi - from.midi) >= LEAST_SEMITONES &&
        to.fromSeconds - from.toSeconds < LONGEST_SECONDS &&
        soundsOn(track, from.toSeconds, to.fromSeconds),
    );
  return ways.slice(0, MOST_LOOKED).flatMap(({ from, to }) => wayBetween(mono, sampleRateHz, track, from, to) ?? []);
}

function plateausOf({ seconds, f0Hz, clarity }: PitchTrack): Plateau[] {
  const found: Plateau[] = [];
  let run: number[] = [];
  const close = () => {
    const [first, last] = [run[0], run[run.length - 1]];
    if (run.length > 2 && seconds[last] - seconds[first] >= LEAST_STILL_SECONDS) {
      const midi = median(run.map((i) => midiFromHz(f0Hz[i])));
      const before = found[found.length - 1];
      // A frame of doubt does not end a note.
      if (before && Math.abs(before.midi - midi) < STILL_SEMITONES) before.toSeconds = seconds[last];
      else found.push({ midi, fromSeconds: seconds[first], toSeconds: seconds[last] });
    }
    run = [];
  };
  for (let i = 0; i < seconds.length; i++) {
    if (!(clarity[i] > LEAST_CLARITY)) continue;
    const before = run[run.length - 1];
    if (before !== undefined && Math.abs(midiFromHz(f0Hz[i]) - midiFromHz(f0Hz[run[0]])) > STILL_SEMITONES) close();
    run.push(i);
  }
  close();
  return found;
}

function soundsOn({ seconds, rms }: PitchTrack, from: number, to: number): boolean {
  const loudest = rms.reduce((a, b) => Math.max(a, b), 0);
  return seconds.every((at, i) => at < from || at > to || rms[i] > PAUSE_RATIO * loudest);
}

const LOOK_SECONDS = 0.12;

function wayBetween(
  mono: Float64Array,
  sampleRateHz: number,
  track: PitchTrack,
  from: Plateau,
  to: Plateau,
): Slide | undefined {
  const start = Math.max(0, Math.max(from.fromSeconds, from.toSeconds - LOOK_SECONDS));
  const end = Math.min(to.toSeconds, to.fromSeconds + LOOK_SECONDS);
  const own = mono.subarray(Math.floor(start * sampleRateHz), Math.ceil(end * sampleRateHz));
  const middleHz = hzFromMidi((from.midi + to.midi) / 2);
  const shifted = { ...track, seconds: track.seconds.map((at) => at - start) };
  const fine = trackFinePitch(own, sampleRateHz, shifted, middleHz, WINDOW_PERIODS);
  const wide = to.midi - from.midi;
  const frames = [...fine.seconds.keys()].filter((i) => Number.isFinite(fine.cents[i]));
  const along = frames.map((i) => 0.5 + fine.cents[i] / 100 / wide);
  const middle = along.findIndex((way, k) => k > 0 && way >= 0.5 && along[k - 1] < 0.5);
  if (middle < 1) return undefined;
  // The last under a tenth before the middle, the first over nine tenths after it.
  const departure = along.findLastIndex((way, k) => k < middle && way <= 0.1);
  const arrival = along.findIndex((way, k) => k >= middle && way >= 0.9);
  if (departure < 0 || arrival < 0) return undefined;
  const crossing = (k: number, way: number) => {
    const [a, b] = [frames[k - 1], frames[k]];
    const share = (way - along[k - 1]) / (along[k] - along[k - 1]);
    return fine.seconds[a] + share * (fine.seconds[b] - fine.seconds[a]);
  };
  const left = crossing(departure + 1, 0.1);
  const took = crossing(arrival, 0.9) - left;
  const inside = along.slice(departure, arrival).filter((way) => way > 0.2 && way < 0.8).length;
  const expected = (0.6 * (took / 0.8)) / (fine.seconds[1] - fine.seconds[0]);
  const glides = inside > LEAST_EVEN * expected && took > LEAST_WINDOWS * fine.windowSeconds;
  const seconds = glides ? Math.sqrt(took * took - (BLUR_WINDOWS * fine.windowSeconds) ** 2) / 0.8 : 0;
  return { fromMidi: from.midi, toMidi: to.midi, middleSeconds: start + left + took / 2, seconds };
}

const LEAST_SHARE = 0.5;

/**
 * The glide of a line, seconds; undefined when no two notes follow one another without a pause, or most of
 * them step.
 */
export function glideOf(slides: readonly Slide[]): number | undefined {
  const times = slides.map(({ seconds }) => seconds).filter((seconds) => seconds > 0);
  return times.length > 0 && times.length >= LEAST_SHARE * slides.length ? median(times) : undefined;
}

/** Notes that a slide passes on its way are none. */
const PASSING_SEMITONES = 0.6;

/**
 * The notes of a line without those that lie on the way from one to the next; the next begins in the middle
 * of its way.
 */
export function withoutPassing(notes: readonly ReadingNote[], slides: readonly Slide[]): ReadingNote[] {
  return slides
    .filter(({ seconds }) => seconds > 0)
    .reduce(
      (kept, { fromMidi, toMidi, middleSeconds, seconds }): ReadingNote[] => {
        const [low, high] = [
          Math.min(fromMidi, toMidi) + PASSING_SEMITONES,
          Math.max(fromMidi, toMidi) - PASSING_SEMITONES,
        ];
        const reach = seconds;
        const passes = ({ midi, cents, onsetSeconds, durationSeconds }: ReadingNote) =>
          midi + cents / 100 > low &&
          midi + cents / 100 < high &&
          onsetSeconds > middleSeconds - reach &&
          onsetSeconds + durationSeconds < middleSeconds + reach;
        return kept
          .filter((note) => !passes(note))
          .map((note) => {
            const end = note.onsetSeconds + note.durationSeconds;
            const isNext =
              Math.abs(note.midi + note.cents / 100 - toMidi) < PASSING_SEMITONES &&
              Math.abs(note.onsetSeconds - middleSeconds) < reach &&
              note.onsetSeconds > middleSeconds;
            const isBefore =
              Math.abs(note.midi + note.cents / 100 - fromMidi) < PASSING_SEMITONES &&
              Math.abs(end - middleSeconds) < reach &&
              end < middleSeconds;
            if (isNext)
              return { ...note, onsetSeconds: rounded(middleSeconds), durationSeconds: rounded(end - middleSeconds) };
            return isBefore ? { ...note, durationSeconds: rounded(middleSeconds - note.onsetSeconds) } : note;
          });
      },
      [...notes],
    );
}

const rounded = (seconds: number) => Math.round(seconds * 1e5) / 1e5;
