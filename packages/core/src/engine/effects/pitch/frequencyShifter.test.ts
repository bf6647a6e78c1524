import { chainOf, effect, settledDb, sineOf } from '../../../../test/chains';
import { decibels } from '../../../../test/signals';

describe('The frequency shifter', () => {
  it.each([60, 200, 1000, 5000, 12000, 20000])(
    'moves %d Hz by 37 and leaves over 60 dB less on the other side',
    (hz) => {
      const [out] = chainOf(effect('frequencyShifter', { shiftHz: 37 })).run(sineOf(hz, 1.5));
      expect(settledDb(out, hz + 37)).toBeCloseTo(decibels(0.5), 1);
      expect(settledDb(out, hz - 37)).toBeLessThan(decibels(0.5) - 60);
    },
  );

  it('moves the right side the other way, when told to', () => {
    const [left, right] = chainOf(effect('frequencyShifter', { shiftHz: -100, opposite: true })).run(sineOf(800, 1.5));
    expect(settledDb(left, 700)).toBeCloseTo(decibels(0.5), 1);
    expect(settledDb(right, 900)).toBeCloseTo(decibels(0.5), 1);
  });
});
