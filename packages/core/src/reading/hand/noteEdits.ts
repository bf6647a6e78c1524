import type { ReadingNote } from '../schema';

/**
 * Corrections by hand of the notes that were found. All leave their input as it is and give notes in the
 * order of their onsets.
 */

const MIN_SECONDS = 0.02;

const inOrder = (notes: readonly ReadingNote[]) =>
  [...notes].sort((a, b) => a.onsetSeconds - b.onsetSeconds || a.midi - b.midi);

const replaced = (notes: readonly ReadingNote[], index: number, ...others: ReadingNote[]) =>
  inOrder([...notes.slice(0, index), ...others, ...notes.slice(index + 1)]);

const limited = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/** Moves a note by time and by whole notes; one that is moved by hand stands in tune. */
export function moveNote(
  notes: readonly ReadingNote[],
  index: number,
  { seconds = 0, semitones = 0 }: { seconds?: number; semitones?: number },
): ReadingNote[] {
  const note = notes[index];
  const midi = limited(note.midi + semitones, 0, 127);
  return replaced(notes, index, {
    ...note,
    onsetSeconds: Math.max(0, note.onsetSeconds + seconds),
    midi,
    cents: midi === note.midi ? note.cents : 0,
  });
}

/** Gives a note another end. */
export function endNoteAt(notes: readonly ReadingNote[], index: number, endSeconds: number): ReadingNote[] {
  const note = notes[index];
  return replaced(notes, index, { ...note, durationSeconds: Math.max(MIN_SECONDS, endSeconds - note.onsetSeconds) });
}

/** Makes two notes of one; without a place inside it, nothing changes. */
export function splitNote(notes: readonly ReadingNote[], index: number, atSeconds: number): ReadingNote[] {
  const note = notes[index];
  const end = note.onsetSeconds + note.durationSeconds;
  if (atSeconds < note.onsetSeconds + MIN_SECONDS || atSeconds > end - MIN_SECONDS) return [...notes];
  return replaced(
    notes,
    index,
    { ...note, durationSeconds: atSeconds - note.onsetSeconds },
    { ...note, onsetSeconds: atSeconds, durationSeconds: end - atSeconds },
  );
}

/**
 * Joins a note with the next that begins after it, of the same pitch if there is one; the first one's pitch
 * stays.
 */
export function joinNotes(notes: readonly ReadingNote[], index: number): ReadingNote[] {
  const note = notes[index];
  const later = notes.filter(({ onsetSeconds }) => onsetSeconds > note.onsetSeconds);
  const next = later.find(({ midi }) => midi === note.midi) ?? later[0];
  if (!next) return [...notes];
  const end = Math.max(note.onsetSeconds + note.durationSeconds, next.onsetSeconds + next.durationSeconds);
  const joined = { ...note, durationSeconds: end - note.onsetSeconds, levelDb: Math.max(note.levelDb, next.levelDb) };
  return inOrder([...notes.filter((other) => other !== note && other !== next), joined]);
}

export const deleteNote = (notes: readonly ReadingNote[], index: number): ReadingNote[] =>
  notes.filter((_, i) => i !== index);

/** Adds a note as loud as the middle of the others. */
export function addNote(
  notes: readonly ReadingNote[],
  note: Pick<ReadingNote, 'onsetSeconds' | 'durationSeconds' | 'midi'>,
): ReadingNote[] {
  const levels = notes.map(({ levelDb }) => levelDb).sort((a, b) => a - b);
  return inOrder([...notes, { ...note, cents: 0, levelDb: levels[levels.length >> 1] ?? -12 }]);
}

/** Moves all notes by octaves, as far as there are notes. */
export function shiftOctaves(notes: readonly ReadingNote[], octaves: number): ReadingNote[] {
  const moved = notes.map((note) => ({ ...note, midi: note.midi + 12 * octaves }));
  return moved.every(({ midi }) => midi >= 0 && midi <= 127) ? moved : [...notes];
}

/** Notes of a span that begins later by `seconds` and lasts `durationSeconds`: what lies outside goes. */
export function notesWithin(notes: readonly ReadingNote[], seconds: number, durationSeconds: number): ReadingNote[] {
  return notes
    .map((note) => ({ ...note, onsetSeconds: note.onsetSeconds - seconds }))
    .filter(({ onsetSeconds }) => onsetSeconds >= 0 && onsetSeconds < durationSeconds);
}
