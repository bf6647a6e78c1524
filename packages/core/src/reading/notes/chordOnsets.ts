import { hzFromMidi } from '../../dsp/pitch';
import type { ReadingNote } from '../schema';
import { median } from '../statistics';

/** Notes that begin within it belong to one chord. */
const CHORD_SECONDS = 0.08;
/** Around the chord, in which its notes are looked for. */
const BEFORE_SECONDS = 0.06;
const AFTER_SECONDS = 0.14;
const HOP_SECONDS = 0.001;
/** Partials that tell a note, up to a frequency: those that hear least of the others. */
const TELLING = 6;
const MOST_HZ = 6000;
/** Lines that stand nearer than this would need a window that blurs a strum. */
const LEAST_DISTANCE_HZ = 30;
/** What is farther need not be told any faster. */
const MOST_DISTANCE_HZ = 200;
/** A window of so many periods of the distance hears little of a neighbour, also as that begins. */
const PERIODS = 4;
const MOST_HEARD = 0.25;
/** Where the levels of the chord's partials are looked at, after a note's time. */
const SETTLED_SECONDS = 0.06;
/** A step is as far up in the middle of a window. */
const HALFWAY = 0.5;

/**
 * Begins the notes of chords where their own partials do, which tells a strum finer than the long windows
 * that notes are found in: each note by the partials that stand farthest from those of the others, under
 * windows just long enough to part them. A chord as a whole begins at an onset where there is one near.
 * Source: our own method.
 *
 * @param onsets times at which something starts
 */
export function withOwnOnsets(
  notes: readonly ReadingNote[],
  mono: ArrayLike<number>,
  sampleRateHz: number,
  onsets: readonly number[],
): ReadingNote[] {
  const done = new Map<ReadingNote, ReadingNote>();
  for (const first of notes) {
    if (done.has(first)) continue;
    const chord = notes.filter((note) => !done.has(note) && isOfChord(note, first));
    const own = chord.map((note) => ownStart(note, chord, mono, sampleRateHz));
    // The others are as early or late against what they were told as these.
    const shift = median(chord.flatMap((note, i) => (own[i] === undefined ? [] : [own[i] - note.onsetSeconds])));
    const starts = chord.map((note, i) => own[i] ?? note.onsetSeconds + (shift || 0));
    const earliest = Math.min(...starts);
    const near = onsets.filter((at) => Math.abs(at - earliest) < BEFORE_SECONDS);
    const from = near.length > 0 ? near.reduce((a, b) => closer(a, b, earliest)) : earliest;
    chord.forEach((note, i) => {
      const onsetSeconds = chord.length > 1 ? from + starts[i] - earliest : note.onsetSeconds;
      const durationSeconds = Math.max(HOP_SECONDS, note.onsetSeconds + note.durationSeconds - onsetSeconds);
      done.set(note, { ...note, onsetSeconds, durationSeconds });
    });
  }
  return notes.map((note) => done.get(note)!);
}

/** Whether notes begin together. */
export const isOneChord = (notes: readonly ReadingNote[]) => notes.every((note) => isOfChord(note, notes[0]));

const isOfChord = (note: ReadingNote, first: ReadingNote) =>
  Math.abs(note.onsetSeconds - first.onsetSeconds) < CHORD_SECONDS;

const closer = (a: number, b: number, to: number) => (Math.abs(b - to) < Math.abs(a - to) ? b : a);

const hzOf = ({ midi, cents }: ReadingNote) => hzFromMidi(midi + cents / 100);

/** A partial of a note, with the window that parts it from those of the others. */
interface Partial {
  hz: number;
  size: number;
  level: number;
  /** What its window hears of the others as they begin, against its own level. */
  heard: number;
}

/** When a note of a chord begins; undefined where no partial is its own. */
function ownStart(
  note: ReadingNote,
  chord: readonly ReadingNote[],
  mono: ArrayLike<number>,
  sampleRateHz: number,
): number | undefined {
  const others = chord.filter((other) => other !== note).map(hzOf);
  const partials = partialsOf(note, others, mono, sampleRateHz)
    .filter(({ heard }) => heard < MOST_HEARD)
    .sort((a, b) => b.level - a.level)
    .slice(0, TELLING);
  if (partials.length === 0) return undefined;
  const hop = Math.round(HOP_SECONDS * sampleRateHz);
  const first = Math.round((note.onsetSeconds - BEFORE_SECONDS) * sampleRateHz);
  const levels = new Float64Array(Math.ceil((BEFORE_SECONDS + AFTER_SECONDS) / HOP_SECONDS));
  for (const { hz, size } of partials) {
    const own = magnitudesAt(mono, { first, hop, count: levels.length }, size, (2 * Math.PI * hz) / sampleRateHz);
    for (let i = 0; i < levels.length; i++) levels[i] += own[i];
  }
  const top = Math.max(...levels);
  const at = levels.findIndex((level) => level >= HALFWAY * top);
  const before = levels[at - 1] ?? 0;
  const part = at > 0 ? (HALFWAY * top - before) / (levels[at] - before) - 1 : 0;
  return top > 0 ? (first + (at + part) * hop) / sampleRateHz : undefined;
}

function partialsOf(
  note: ReadingNote,
  others: readonly number[],
  mono: ArrayLike<number>,
  sampleRateHz: number,
): Partial[] {
  const own = hzOf(note);
  const settled = Math.round((note.onsetSeconds + SETTLED_SECONDS) * sampleRateHz);
  const partials: Partial[] = [];
  for (let hz = own; hz < MOST_HZ; hz += own) {
    const near = others.map((other) => nearestPartial(other, hz));
    const distanceHz = Math.min(MOST_DISTANCE_HZ, ...near.map((line) => Math.abs(line - hz)));
    if (distanceHz < LEAST_DISTANCE_HZ) continue;
    const size = Math.round((PERIODS / distanceHz) * sampleRateHz);
    const place = { first: settled, hop: 1, count: 1 };
    const levelAt = (line: number) => magnitudesAt(mono, place, size, (2 * Math.PI * line) / sampleRateHz)[0];
    const level = levelAt(hz);
    // Of a sine that begins in its middle a Hann window hears this much at a distance.
    const heard = near.reduce((sum, line) => sum + levelAt(line) / (Math.PI * Math.abs(line - hz)), 0);
    partials.push({ hz, size, level, heard: (heard * sampleRateHz) / size / level });
  }
  return partials;
}

const nearestPartial = (f0Hz: number, hz: number) => f0Hz * Math.max(1, Math.round(hz / f0Hz));

/** Samples, evenly apart. */
interface Places {
  first: number;
  hop: number;
  count: number;
}

/**
 * Amplitudes at a frequency under Hann windows around samples. Such a window is three rectangles, one at the
 * frequency and one a turn a window to either side, whose sums run on from place to place.
 */
function magnitudesAt(mono: ArrayLike<number>, { first, hop, count }: Places, size: number, omega: number) {
  const start = first - Math.floor(size / 2);
  const length = (count - 1) * hop + size;
  const turn = (2 * Math.PI) / size;
  const [middle, lower, upper] = [0, -turn, turn].map((aside) => runningSums(mono, start, length, omega + aside));
  return Float64Array.from({ length: count }, (_, i) => {
    const [from, to] = [i * hop, i * hop + size];
    const cosine = 0.5 * Math.cos(turn * from);
    const sine = 0.5 * Math.sin(turn * from);
    const over = (sums: Float64Array) => sums[to] - sums[from];
    const [lowerRe, lowerIm, upperRe, upperIm] = [over(lower.re), over(lower.im), over(upper.re), over(upper.im)];
    const re = over(middle.re) - cosine * (lowerRe + upperRe) - sine * (lowerIm - upperIm);
    const im = over(middle.im) - cosine * (lowerIm + upperIm) - sine * (upperRe - lowerRe);
    return Math.hypot(re, im) / size;
  });
}

/** Sums of a signal turned down by a frequency, up to each sample; nothing sounds before and after it. */
function runningSums(mono: ArrayLike<number>, start: number, length: number, omega: number) {
  const re = new Float64Array(length + 1);
  const im = new Float64Array(length + 1);
  const [stepRe, stepIm] = [Math.cos(omega), -Math.sin(omega)];
  let [turnedRe, turnedIm] = [1, 0];
  for (let i = 0; i < length; i++) {
    const x = mono[start + i] ?? 0;
    re[i + 1] = re[i] + x * turnedRe;
    im[i + 1] = im[i] + x * turnedIm;
    [turnedRe, turnedIm] = [turnedRe * stepRe - turnedIm * stepIm, turnedRe * stepIm + turnedIm * stepRe];
  }
  return { re, im };
}
