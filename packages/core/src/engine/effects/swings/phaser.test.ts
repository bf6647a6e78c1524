import { CHAIN_RATE_HZ, chainOf, click, effect, noiseOf, responseDb } from '../../../../test/chains';
import { rms } from '../../../../test/signals';

describe('The phaser', () => {
  it.each([2, 6, 12, 24])(
    '%d stages make half as many notches, where the phases of first-order all-passes say',
    (stages) => {
      const fields = { stages, centreHz: 2000, spreadOctaves: 0, feedback: 0, depthOctaves: 0, mix: 50 };
      const [out] = chainOf(effect('phaser', fields)).run(click(0.5));
      const warped = (hz: number) => Math.tan((Math.PI * hz) / CHAIN_RATE_HZ);
      for (let k = 0; k < stages / 2; k++) {
        // All-passes in a row turn by −2·atan(f/fc) each: notches where that comes to an odd multiple of π.
        const ratio = Math.tan(((2 * k + 1) * Math.PI) / (2 * stages));
        const hz = (CHAIN_RATE_HZ / Math.PI) * Math.atan(ratio * warped(2000));
        expect(responseDb(out, hz)).toBeLessThan(-40);
      }
      expect(responseDb(out, 1)).toBeCloseTo(0, 1);
    },
  );

  it('stands still without a depth, and stays bounded at the highest feedback', () => {
    const fields = { stages: 24, feedback: 99, depthOctaves: 0, mix: 100 };
    const [out] = chainOf(effect('phaser', fields)).run(noiseOf(2));
    expect(rms(out)).toBeLessThan(12 * rms(noiseOf(2)));
  });
});
