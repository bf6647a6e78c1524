import { createRandom } from '../../test/signals';
import { bentFallOf } from './bentFall';

const random = createRandom(7);
const pointsOf = (of: (seconds: number) => number) =>
  Array.from({ length: 80 }, (_, i) => ({ seconds: i / 80, value: of(i / 80) + 0.04 * (random() - 0.5) }));

describe('A fall that is no exponential', () => {
  it.each([
    [0.3, 3, 9],
    [0.6, 1.5, 8],
  ])('in a straight line within %d s by %d octaves', (length, range, rest) => {
    const found = bentFallOf(pointsOf((t) => rest + range * Math.max(0, 1 - t / length)))!;
    expect(found.curve).toBe(0);
    expect(Math.abs(found.seconds / length - 1)).toBeLessThan(0.07);
    expect(Math.abs(found.range - range)).toBeLessThan(0.1);
    expect(Math.abs(found.rest - rest)).toBeLessThan(0.05);
  });

  it.each([0.1, 0.2])('of a cutoff that falls exponentially in Hz, with a time constant of %d s', (tau) => {
    const cutoff = (t: number) => Math.log2(500 + 4000 * Math.exp(-t / tau));
    const found = bentFallOf(pointsOf(cutoff))!;
    expect(found.curve).toBeGreaterThanOrEqual(0);
    expect(found.rms).toBeLessThan(0.12);
    // The straight part is gone when what falls is as high as what stays.
    expect(found.seconds).toBeGreaterThan(tau * Math.log(8) * 0.8);
    expect(found.seconds).toBeLessThan(tau * Math.log(8) * 2.2);
  });

  it('slowly first', () => {
    const found = bentFallOf(pointsOf((t) => 8 + 2 * Math.max(0, 1 - (t / 0.5) ** 3)))!;
    expect(found.curve).toBeLessThan(0);
  });

  it('is none of what rises', () => {
    expect(bentFallOf(pointsOf((t) => 8 + t))).toBeUndefined();
  });
});
