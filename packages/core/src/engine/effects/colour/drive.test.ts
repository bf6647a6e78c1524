import { rms } from '../../../../test/signals';
import { CHAIN_RATE_HZ, chainOf, click, effect, sineOf } from '../../../../test/chains';
import { aliasDb } from '../../../../test/spectrum';
import { shaperCurves } from '../../../parameters/shapes';
import { SHAPER_LATENCY } from '../../shaping/shaper';

const SINE_HZ = 997;

describe('The drive', () => {
  // How aliasing is told: Välimäki & Huovilainen 2007.
  it.each(shaperCurves.filter((curve) => curve !== 'drawn'))(
    '%s: aliases stay 60 dB under at 1 kHz, full scale and full drive',
    (curve) => {
      const [out] = chainOf(effect('drive', { curve, driveDb: 48 })).run(sineOf(SINE_HZ, 1, 1));
      expect(aliasDb(out, SINE_HZ, CHAIN_RATE_HZ, 'strongest')).toBeLessThan(-60);
    },
  );

  it.each(shaperCurves.filter((curve) => curve !== 'drawn'))(
    '%s: leaves no constant behind, however crooked it is driven, and does not count one as level',
    (curve) => {
      for (const bias of [-80, 50]) {
        const tone = sineOf(110, 2, 0.5);
        const [out] = chainOf(effect('drive', { curve, driveDb: 24, bias })).run(tone.slice());
        // Whole periods of the tone.
        const last = out.subarray(out.length - 0.9 * CHAIN_RATE_HZ);
        const dc = last.reduce((sum, x) => sum + x, 0) / last.length;
        expect(20 * Math.log10(Math.abs(dc) + 1e-12)).toBeLessThan(-60);
        const [matched] = chainOf(effect('drive', { curve, driveDb: 24, bias, matchLevel: true })).run(tone.slice());
        expect(20 * Math.log10(rms(matched.subarray(CHAIN_RATE_HZ)) / rms(tone))).toBeCloseTo(0, 0);
      }
    },
  );

  it('keeps its latency whatever the curve', () => {
    for (const curve of ['soft', 'roundFold', 'straightFold'] as const) {
      const [out] = chainOf(effect('drive', { curve, driveDb: 0 })).run(click(0.02).map((x) => 0.001 * x));
      const strongest = out.reduce((best, x, i) => (Math.abs(x) > Math.abs(out[best]) ? i : best), 0);
      expect(strongest).toBe(SHAPER_LATENCY);
    }
  });

  it('matches the level of what goes in from the first block on', () => {
    const sine = sineOf(220, 1, 0.5);
    const [out] = chainOf(effect('drive', { curve: 'hard', driveDb: 24, matchLevel: true })).run(sine.slice());
    expect(20 * Math.log10(rms(out.subarray(4800)) / rms(sine))).toBeCloseTo(0, 1);
    expect(Math.max(...out.map(Math.abs))).toBeLessThan(0.6);
  });
});
