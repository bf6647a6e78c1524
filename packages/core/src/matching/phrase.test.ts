import { notesOfPhrase, phraseOf } from './phrase';

const note = (onsetSeconds: number, durationSeconds: number, midi: number, levelDb = -12) => ({
  onsetSeconds,
  durationSeconds,
  midi,
  cents: 0,
  levelDb,
});
const sliding = (glideSeconds: number | null) => ({ pitch: { glideSeconds } });

describe('A phrase', () => {
  it('has the loudest note at velocity 100, a softer one by its level, and the way back', () => {
    const notes = [note(0, 0.4, 57), note(0.5, 0.4, 60, -18)];
    const phrase = phraseOf({ notes });
    // Velocity v is 40·log10(v / 100) dB.
    expect(phrase.map(({ velocity }) => velocity)).toEqual([100, 71]);
    expect(notesOfPhrase(phrase).map(({ levelDb }) => Math.round(levelDb))).toEqual([-12, -18]);
  });

  it('begins notes that slide with the slide, and holds the one before over them', () => {
    const notes = [note(0, 0.75, 57), note(0.75, 0.5, 60), note(1.5, 0.4, 64)];
    const [first, second, third] = phraseOf({ notes, traits: sliding(0.1) });
    expect(second.onsetSeconds).toBeCloseTo(0.7, 9);
    expect(second.onsetSeconds + second.durationSeconds).toBeCloseTo(1.25, 9);
    expect(first.durationSeconds).toBeGreaterThan(second.onsetSeconds);
    expect(first.durationSeconds).toBeLessThan(second.onsetSeconds + 0.02);
    // What comes after a gap was struck again.
    expect(third).toMatchObject({ onsetSeconds: 1.5, durationSeconds: 0.4 });
  });

  it('is as it was read where nothing slides', () => {
    const notes = [note(0, 0.75, 57), note(0.75, 0.5, 60)];
    expect(phraseOf({ notes, traits: sliding(null) })).toEqual(phraseOf({ notes }));
  });
});
