import { createRandom } from '../../../test/signals';
import { DECAY_TAUS } from '../../patch/envelopeCurve';
import { bentFallOf, fallOf } from './fall';

const pointsOf = (valueAt: (seconds: number) => number) =>
  Array.from({ length: 60 }, (_, i) => ({ seconds: i / 60, value: valueAt(i / 60) }));

describe('A fall to a rest', () => {
  it.each([
    [5, 20, 0.3],
    [0, 27, 1],
    [12, -8, 0.1],
  ])('at %d, from %d over it, with a time constant of %d s', (rest, range, tau) => {
    const fall = fallOf(pointsOf((t) => rest + range * Math.exp(-t / tau)));
    expect(Math.abs(fall.rest - rest)).toBeLessThan(1.5);
    expect(Math.abs(fall.rest + fall.range - rest - range)).toBeLessThan(0.5);
    expect(Math.abs(fall.seconds / DECAY_TAUS / tau - 1)).toBeLessThan(0.1);
    expect(fall.rms).toBeLessThan(0.15);
  });

  it('rests at nothing less than nought', () => {
    expect(fallOf(pointsOf((t) => 10 - 14 * t)).rest).toBe(0);
  });

  it('is none of what stands still', () => {
    expect(fallOf(pointsOf(() => 3))).toMatchObject({ rest: 3, range: 0, rms: 0 });
  });
});

const random = createRandom(7);
const strayed = (of: (seconds: number) => number) =>
  Array.from({ length: 80 }, (_, i) => ({ seconds: i / 80, value: of(i / 80) + 0.04 * (random() - 0.5) }));

describe('A fall that is no exponential', () => {
  it.each([
    [0.3, 3, 9],
    [0.6, 1.5, 8],
  ])('in a straight line within %d s by %d octaves', (length, range, rest) => {
    const found = bentFallOf(strayed((t) => rest + range * Math.max(0, 1 - t / length)))!;
    expect(found.curve).toBe(0);
    expect(Math.abs(found.seconds / length - 1)).toBeLessThan(0.07);
    expect(Math.abs(found.range - range)).toBeLessThan(0.1);
    expect(Math.abs(found.rest - rest)).toBeLessThan(0.05);
  });

  it.each([0.1, 0.2])('of a cutoff that falls exponentially in Hz, with a time constant of %d s', (tau) => {
    const cutoff = (t: number) => Math.log2(500 + 4000 * Math.exp(-t / tau));
    const found = bentFallOf(strayed(cutoff))!;
    expect(found.curve).toBeGreaterThanOrEqual(0);
    expect(found.rms).toBeLessThan(0.12);
    // The straight part is gone when what falls is as high as what stays.
    expect(found.seconds).toBeGreaterThan(tau * Math.log(8) * 0.8);
    expect(found.seconds).toBeLessThan(tau * Math.log(8) * 2.2);
  });

  it('slowly first', () => {
    const found = bentFallOf(strayed((t) => 8 + 2 * Math.max(0, 1 - (t / 0.5) ** 3)))!;
    expect(found.curve).toBeLessThan(0);
  });

  it('is none of what rises', () => {
    expect(bentFallOf(strayed((t) => 8 + t))).toBeUndefined();
  });
});
