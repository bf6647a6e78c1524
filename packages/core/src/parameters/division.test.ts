import { beatsOfDivision, divisions, rateOfDivision } from './division';

describe('Divisions of the beat', () => {
  // Arithmetic; the figures are common practice.
  it.each([
    ['1/8.', 128, 0.3516],
    ['1/16', 130, 0.1154],
    ['1/2', 120, 1],
    ['2 bars', 120, 4],
    ['1/4t', 90, 0.4444],
  ])('%s at %f BPM lasts %f s', (division, bpm, seconds) => {
    expect(1 / rateOfDivision(division, bpm)!).toBeCloseTo(seconds, 4);
  });

  it('run from 1/128 triplet to 16 bars, each of them readable', () => {
    const beats = divisions.map((division) => beatsOfDivision(division)!);
    expect(Math.min(...beats)).toBeCloseTo(4 / 128 / 1.5);
    expect(Math.max(...beats)).toBe(64);
    expect(new Set(beats).size).toBe(divisions.length);
  });

  it.each(['', '1/0', 'bars', '3/4', '1/8x', '0 bars'])('“%s” is none', (text) => {
    expect(beatsOfDivision(text)).toBeUndefined();
    expect(rateOfDivision(text, 120)).toBeUndefined();
  });
});
