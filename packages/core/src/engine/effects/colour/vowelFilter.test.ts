import { chainOf, click, effect, responseDb } from '../../../../test/chains';

describe('The vowel filter', () => {
  // First two formants of men's voices: Peterson & Barney 1952, table II.
  it.each([
    [0, 730, 1090],
    [50, 270, 2290],
    [100, 300, 870],
  ])('at %d %% has the formants of its vowel', (vowel, first, second) => {
    const [out] = chainOf(effect('vowelFilter', { vowel, resonanceDb: 24 })).run(click(0.5));
    for (const hz of [first, second]) {
      const around = [0.84, 1.19].map((ratio) => responseDb(out, hz * ratio));
      expect(responseDb(out, hz)).toBeGreaterThan(Math.min(...around));
    }
    expect(responseDb(out, first)).toBeGreaterThan(responseDb(out, 60) + 10);
  });
});
