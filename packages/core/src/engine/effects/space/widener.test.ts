import { CHAIN_RATE_HZ, chainOf, effect, noiseOf, sineOf } from '../../../../test/chains';
import { decibels, rms } from '../../../../test/signals';

describe('The widener', () => {
  it('makes a mono sound wide, leaves its lows in the middle, and is as loud as before', () => {
    const [left, right] = chainOf(effect('widener', { monoBelowHz: 150, mix: 100 })).run(noiseOf(3));
    const side = left.map((x, i) => (x - right[i]) / 2);
    const middle = left.map((x, i) => (x + right[i]) / 2);
    expect(decibels(rms(side) / rms(middle))).toBeGreaterThan(-8);
    expect(Math.abs(decibels(rms(left, 9600) / rms(noiseOf(3))))).toBeLessThan(1);
    const [low, lowRight] = chainOf(effect('widener', { monoBelowHz: 150, mix: 100 })).run(sineOf(45, 2));
    const off = low.map((x, i) => (x - lowRight[i]) / 2);
    expect(decibels(rms(off, CHAIN_RATE_HZ) / rms(low, CHAIN_RATE_HZ))).toBeLessThan(-36);
  });
});
