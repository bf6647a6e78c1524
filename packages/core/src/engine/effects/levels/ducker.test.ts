import { CHAIN_RATE_HZ, chainOf, chainWithin, effect, keyOf, sineOf } from '../../../../test/chains';
import { decibels } from '../../../../test/signals';

const constant = (seconds: number) => new Float64Array(Math.round(seconds * CHAIN_RATE_HZ)).fill(0.5);

const dbAt = (signal: Float64Array, seconds: number) => decibels(signal[Math.round(seconds * CHAIN_RATE_HZ)] / 0.5);

describe('The ducker', () => {
  it('by a pattern goes down on its sixteenths and comes back over its release', () => {
    // At 120 BPM a beat is half a second.
    const [out] = chainOf(effect('ducker', { depthDb: 20, releaseSeconds: 0.2 })).run(constant(2));
    for (const beat of [0, 1, 2, 3]) {
      expect(dbAt(out, 0.5 * beat + 0.006)).toBeLessThan(-18);
      expect(dbAt(out, 0.5 * beat + 0.1)).toBeCloseTo(-10, 0);
      expect(dbAt(out, 0.5 * beat + 0.25)).toBeCloseTo(0, 3);
    }
  });

  it('by a drawn line follows it over its division', () => {
    const curve = [
      { x: 0, y: 1 },
      { x: 0.5, y: 0 },
      { x: 1, y: 1 },
    ];
    const fields = { key: 'drawn', division: '1/2', curve, depthDb: 24 };
    const [out] = chainOf(effect('ducker', fields)).run(constant(2));
    for (const [seconds, db] of [
      [0.25, -12],
      [0.5, -24],
      [0.75, -12],
      [1.5, -24],
    ])
      expect(dbAt(out, seconds)).toBeCloseTo(db, 0);
  });

  it('by a layer goes down at its strokes only', () => {
    const strokes = new Float64Array(2 * CHAIN_RATE_HZ);
    for (const seconds of [0.4, 1.1])
      for (let i = 0; i < 4000; i++)
        strokes[Math.round(seconds * CHAIN_RATE_HZ) + i] = 0.8 * Math.exp(-i / 1500) * Math.sin(i / 80);
    const fields = { key: 'layer', keyLayerId: 'key', depthDb: 20, releaseSeconds: 0.15 };
    const [out] = chainWithin(keyOf(strokes), effect('ducker', fields)).run(constant(2));
    for (const seconds of [0.4, 1.1]) {
      expect(dbAt(out, seconds - 0.02)).toBeCloseTo(0, 2);
      expect(dbAt(out, seconds + 0.012)).toBeLessThan(-15);
      expect(dbAt(out, seconds + 0.3)).toBeCloseTo(0, 2);
    }
  });

  it('only below a frequency leaves the rest as it is within 0.1 dB', () => {
    const level = (hz: number) => {
      const [out] = chainOf(effect('ducker', { belowHz: 150, depthDb: 30, releaseSeconds: 4 })).run(sineOf(hz, 0.4));
      return decibels(out.subarray(2400).reduce((most, x) => Math.max(most, Math.abs(x)), 0) / 0.5);
    };
    expect(Math.abs(level(3000))).toBeLessThan(0.1);
    expect(level(40)).toBeLessThan(-15);
  });
});
