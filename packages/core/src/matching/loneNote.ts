import { type Audio, durationOf, sliceAudio } from '../reading/audio';
import { oneOfChord } from '../reading/isolation/oneOfChord';
import { type Measurement, measure } from '../reading/read';
import type { Reading, ReadingNote } from '../reading/schema';

const LEAD_SECONDS = 0.02;
const MOST_TAIL_SECONDS = 1.5;
/** How a note dies away is heard of the last one: it is taken where it is nearly as long. */
const WORTH_OF_AN_END = 1.25;
/** Notes of a chord sound together for most of their time. */
const CHORD_SHARE = 0.5;

/**
 * Measures the note of a phrase that tells most of its tone: the longest, or the last. Of a chord its loudest
 * note, taken out of the rest by its partials.
 */
export function measureLoneNote(audio: Audio, { notes }: Reading): Measurement {
  const last = notes[notes.length - 1];
  const worth = (note: ReadingNote) => note.durationSeconds * (note === last ? WORTH_OF_AN_END : 1);
  const longest = notes.reduce((a, b) => (worth(b) > worth(a) ? b : a));
  const chord = notes.filter((note) => sharedSeconds(note, longest) > CHORD_SHARE * longest.durationSeconds);
  const next = notes.find((note) => note.onsetSeconds > longest.onsetSeconds && !chord.includes(note));
  const from = Math.max(0, Math.min(...chord.map(({ onsetSeconds }) => onsetSeconds)) - LEAD_SECONDS);
  const to = Math.min(
    next?.onsetSeconds ?? Infinity,
    longest.onsetSeconds + longest.durationSeconds + MOST_TAIL_SECONDS,
    durationOf(audio),
  );
  const cut = sliceAudio(audio, from, to);
  const note = measure(chord.length > 1 ? loudestOf(cut, chord, from) : cut);
  return note.fundamental ? note : measure(audio);
}

function sharedSeconds(a: ReadingNote, b: ReadingNote): number {
  const end = (note: ReadingNote) => note.onsetSeconds + note.durationSeconds;
  return Math.min(end(a), end(b)) - Math.max(a.onsetSeconds, b.onsetSeconds);
}

function loudestOf(cut: Audio, chord: readonly ReadingNote[], from: number): Audio {
  const own = chord.map((note) => ({ ...note, onsetSeconds: note.onsetSeconds - from }));
  return oneOfChord(
    cut,
    own,
    own.reduce((a, b) => (b.levelDb > a.levelDb ? b : a)),
  );
}
