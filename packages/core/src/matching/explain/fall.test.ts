import { DECAY_TAUS } from '../../patch/envelopeCurve';
import { fallOf } from './fall';

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
