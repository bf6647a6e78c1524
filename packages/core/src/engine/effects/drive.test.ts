import { CHAIN_RATE_HZ, chainOf, effect, sineOf } from '../../../test/chains';
import { aliasDb } from '../../../test/spectrum';

const SINE_HZ = 997;

describe('The drive', () => {
  // How aliasing is told: Välimäki & Huovilainen 2007.
  it.each(['soft', 'hard', 'tube', 'diode', 'sine', 'logarithmic'] as const)(
    '%s: aliases stay 60 dB under at 1 kHz, full scale and full drive',
    (curve) => {
      const [out] = chainOf(effect('drive', { curve, driveDb: 48 })).run(sineOf(SINE_HZ, 1, 1));
      expect(aliasDb(out, SINE_HZ, CHAIN_RATE_HZ, 'strongest')).toBeLessThan(-60);
    },
  );

  it.each([
    ['sineFold', 24],
    ['fold', 12],
  ] as const)('%s: so do they up to %d dB, before the folds themselves reach half the rate', (curve, driveDb) => {
    const [out] = chainOf(effect('drive', { curve, driveDb })).run(sineOf(SINE_HZ, 1, 1));
    expect(aliasDb(out, SINE_HZ, CHAIN_RATE_HZ, 'strongest')).toBeLessThan(-60);
  });
});
