import { chainOf, chainWithin, effect, settledDb, sineOf } from '../../../../test/chains';
import { decibels } from '../../../../test/signals';

describe('The ring modulator', () => {
  it('makes two partials of one, each half as loud (product of two sines)', () => {
    const [out] = chainOf(effect('ringModulator', { tuning: 'fixed', toneHz: 130 })).run(sineOf(900, 1.5));
    expect(settledDb(out, 770)).toBeCloseTo(decibels(0.25), 1);
    expect(settledDb(out, 1030)).toBeCloseTo(decibels(0.25), 1);
    expect(settledDb(out, 900)).toBeLessThan(-80);
  });

  it('follows the note', () => {
    const around = { noteHz: 220, layer: () => undefined };
    const [out] = chainWithin(around, effect('ringModulator', { ratio: 2 })).run(sineOf(1000, 1.5));
    expect(settledDb(out, 560)).toBeCloseTo(decibels(0.25), 1);
  });
});
