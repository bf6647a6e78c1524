import { centsBetween, hzFromMidi, midiFromHz, noteName, ratioFromSemitones } from './pitch';

describe('Pitch', () => {
  // MIDI 1.0 with equal temperament.
  it.each([
    [69, 440],
    [60, 261.626],
    [33, 55],
  ])('MIDI note %i is %f Hz', (midi, hz) => {
    expect(hzFromMidi(midi)).toBeCloseTo(hz, 3);
    expect(midiFromHz(hz)).toBeCloseTo(midi, 4);
  });

  it('28 semitones are a ratio of 5.04, close to the fifth harmonic (equal temperament; use: common practice)', () => {
    expect(ratioFromSemitones(28)).toBeCloseTo(5.04, 2);
  });

  it('counts cents and names notes', () => {
    expect(centsBetween(440, 880)).toBeCloseTo(1200);
    expect(noteName(60)).toBe('C4');
    expect(noteName(45.3)).toBe('A2');
    expect(noteName(-1)).toBe('B-2');
  });
});
