import { type Audio, durationOf, sliceAudio, toMono } from '../reading/audio';
import { oneOfChord } from '../reading/isolation/oneOfChord';
import { type Measurement, measure } from '../reading/read';
import type { Reading, ReadingNote } from '../reading/schema';
import { rmsOf } from '../reading/statistics';

/** So much before its onset belongs to a note at most. */
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
  const from = quietBefore(audio, Math.min(...chord.map(({ onsetSeconds }) => onsetSeconds)));
  const to = Math.min(
    next?.onsetSeconds ?? Infinity,
    longest.onsetSeconds + longest.durationSeconds + MOST_TAIL_SECONDS,
    durationOf(audio),
  );
  const cut = sliceAudio(audio, from, to);
  const note = measure(chord.length > 1 ? loudestOf(cut, chord, from) : cut);
  return note.fundamental ? note : measure(audio);
}

const QUIET_SECONDS = 0.002;
/** As little as the least. */
const AS_LITTLE = 2;
const SILENT = 1e-4;

/** Where it is quietest around an onset, which may be told early: the note before is to have ended there. */
function quietBefore(audio: Audio, onsetSeconds: number): number {
  const mono = toMono(audio);
  const { sampleRateHz } = audio;
  const hop = Math.round(QUIET_SECONDS * sampleRateHz);
  const onset = Math.round(onsetSeconds * sampleRateHz);
  const first = Math.max(0, onset - Math.round(LEAD_SECONDS * sampleRateHz));
  const last = onset + Math.round(LEAD_SECONDS * sampleRateHz);
  const levels = Array.from({ length: Math.floor((last - first) / hop) }, (_, i) =>
    rmsOf(mono, first + i * hop, first + (i + 1) * hop),
  );
  const after = rmsOf(mono, last, last + Math.round(LEAD_SECONDS * sampleRateHz));
  const least = Math.max(SILENT * after, AS_LITTLE * Math.min(...levels));
  const quiet = levels.findIndex((level) => level <= least);
  return Math.max(0, first + Math.max(0, quiet) * hop) / sampleRateHz;
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
