import midi from '@tonejs/midi';
import { readMidiFile, writeMidiFile } from './midi';

const notes = [
  { onsetSeconds: 0.25, durationSeconds: 0.5, midi: 45, velocity: 100 },
  { onsetSeconds: 0.75, durationSeconds: 1.25, midi: 45, velocity: 64 },
  { onsetSeconds: 1, durationSeconds: 0.1, midi: 60, velocity: 1 },
];

describe('Standard MIDI File', () => {
  it.each([120, 96, 133.7])('at %f BPM is read by another library as it was written', (bpm) => {
    const { tracks, header } = new midi.Midi(writeMidiFile(notes, bpm));
    expect(header.tempos[0].bpm).toBeCloseTo(bpm, 2);
    const read = tracks[0].notes;
    expect(read).toHaveLength(3);
    notes.forEach((note, i) => {
      expect(read[i].midi).toBe(note.midi);
      expect(read[i].time).toBeCloseTo(note.onsetSeconds, 2);
      expect(read[i].duration).toBeCloseTo(note.durationSeconds, 2);
      expect(Math.round(127 * read[i].velocity)).toBe(note.velocity);
    });
  });

  it('comes back as it went, tempo changes followed', () => {
    const read = readMidiFile(writeMidiFile(notes, 96));
    read.forEach((note, i) => expect(note.onsetSeconds).toBeCloseTo(notes[i].onsetSeconds, 2));
  });

  it('says what is no MIDI file, and what holds no notes', () => {
    expect(() => readMidiFile(Uint8Array.of(1, 2, 3))).toThrow('not a Standard MIDI File');
    expect(() => readMidiFile(writeMidiFile([]))).toThrow('no notes');
  });
});
