import { addNote, deleteNote, endNoteAt, joinNotes, moveNote, notesWithin, shiftOctaves, splitNote } from './noteEdits';
import type { ReadingNote } from '../schema';

const note = (onsetSeconds: number, durationSeconds: number, midi: number): ReadingNote => ({
  onsetSeconds,
  durationSeconds,
  midi,
  cents: 7,
  levelDb: -10 - midi / 10,
});
const line = [note(0, 0.5, 50), note(0.5, 0.5, 52), note(1, 0.5, 50)];
const words = (notes: readonly ReadingNote[]) =>
  notes.map(({ onsetSeconds, durationSeconds, midi }) => `${onsetSeconds}+${durationSeconds}:${midi}`).join(' ');

it('moves a note in pitch, which puts it in tune, and in time, behind others', () => {
  expect(words(moveNote(line, 0, { semitones: -2 }))).toBe('0+0.5:48 0.5+0.5:52 1+0.5:50');
  expect(moveNote(line, 0, { semitones: -2 })[0].cents).toBe(0);
  expect(words(moveNote(line, 0, { seconds: 0.75 }))).toBe('0.5+0.5:52 0.75+0.5:50 1+0.5:50');
  expect(moveNote(line, 0, { seconds: 0.75 })[1].cents).toBe(7);
  expect(moveNote(line, 0, { seconds: -1, semitones: -99 })[0]).toMatchObject({ onsetSeconds: 0, midi: 0 });
});

it('ends, splits and joins', () => {
  expect(words(endNoteAt(line, 1, 0.75))).toBe('0+0.5:50 0.5+0.25:52 1+0.5:50');
  expect(endNoteAt(line, 1, 0.1)[1].durationSeconds).toBe(0.02);
  expect(words(splitNote(line, 1, 0.75))).toBe('0+0.5:50 0.5+0.25:52 0.75+0.25:52 1+0.5:50');
  expect(splitNote(line, 1, 2)).toEqual(line);
  // The next of the same pitch, else the next.
  expect(words(joinNotes(line, 0))).toBe('0+1.5:50 0.5+0.5:52');
  expect(words(joinNotes(line, 1))).toBe('0+0.5:50 0.5+1:52');
  expect(joinNotes(line, 2)).toEqual(line);
});

it('adds, deletes and moves by octaves', () => {
  expect(words(addNote(line, { onsetSeconds: 0.25, durationSeconds: 0.1, midi: 60 }))).toBe(
    '0+0.5:50 0.25+0.1:60 0.5+0.5:52 1+0.5:50',
  );
  expect(addNote([], { onsetSeconds: 0, durationSeconds: 1, midi: 60 })[0].levelDb).toBe(-12);
  expect(words(deleteNote(line, 1))).toBe('0+0.5:50 1+0.5:50');
  expect(words(shiftOctaves(line, -1))).toBe('0+0.5:38 0.5+0.5:40 1+0.5:38');
  expect(shiftOctaves(line, 8)).toEqual(line);
});

it('follows a span that is moved', () => {
  expect(words(notesWithin(line, 0.5, 0.4))).toBe('0+0.5:52');
  expect(words(notesWithin(line, -0.25, 9))).toBe('0.25+0.5:50 0.75+0.5:52 1.25+0.5:50');
});

it('leaves what it is given as it was', () => {
  const before = structuredClone(line);
  moveNote(line, 0, { semitones: 3 });
  joinNotes(line, 0);
  shiftOctaves(line, 1);
  expect(line).toEqual(before);
});
