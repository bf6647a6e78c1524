import { CHAIN_RATE_HZ, chainOf, click, effect, responseDb } from '../../../../test/chains';
import { decibels } from '../../../../test/signals';

describe('What keeps its lows apart', () => {
  it('the ducker leaves what lies an octave over its cut alone, and takes all of what lies under it', () => {
    const curve = [
      { x: 0, y: 0 },
      { x: 1, y: 0 },
    ];
    for (const [depthDb, mix] of [
      [6, 100],
      [60, 50],
      [60, 100],
    ]) {
      const fields = { key: 'drawn', curve, belowHz: 120, depthDb, mix };
      const [out] = chainOf(effect('ducker', fields)).run(click(1));
      const ducked = decibels(1 - (mix / 100) * (1 - 10 ** (-depthDb / 20)));
      for (const hz of [240, 300, 480, 1000, 5000]) expect(Math.abs(responseDb(out, hz))).toBeLessThan(0.5);
      if (ducked > -50) expect(responseDb(out, 55)).toBeCloseTo(ducked, 1);
      else expect(responseDb(out, 55)).toBeLessThan(-45);
    }
  });

  it.each([100, 50])(
    'mono below leaves a hard-panned sound where it stands, an octave over it, at a mix of %d %%',
    (mix) => {
      const silent = new Float64Array(CHAIN_RATE_HZ);
      const [left, right] = chainOf(effect('stereo', { monoBelowHz: 150, mix })).run(click(1), silent);
      for (const hz of [300, 600, 2000]) {
        expect(Math.abs(responseDb(left, hz))).toBeLessThan(0.5);
        expect(responseDb(right, hz)).toBeLessThan(-30);
      }
      if (mix === 100) expect(responseDb(left, 60)).toBeCloseTo(responseDb(right, 60), 1);
    },
  );
});
