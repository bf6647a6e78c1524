import { lowpassed, times, voices } from '../../../test/effects';
import { findMovingNotch } from './movingNotch';
import { measurePartials } from '../partials/partialFrames';
import { some } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 2;

const notchOf = (signal: Float64Array, f0Hz: number) =>
  findMovingNotch(
    measurePartials(signal, RATE_HZ, () => f0Hz, Math.max(0.008, 0.75 / f0Hz)),
    0.05,
    SECONDS - 0.05,
  );

/** A saw behind a notch, |1 − r²| / |1 − r² + jr/Q|, whose frequency moves. */
const notched = (f0Hz: number, hzAt: (seconds: number) => number, q: number) =>
  voices({
    f0Hz,
    seconds: SECONDS,
    mostPartials: 90,
    amplitude: (n, t) => {
      const r = (n * f0Hz) / hzAt(t);
      return ((1 / n) * Math.abs(1 - r * r)) / Math.hypot(1 - r * r, r / q);
    },
  });

some(1).describe.each([55, 110, 220])('A notch that moves through a saw at %d Hz', (f0Hz) => {
  it.each([
    [400, 3000, 1],
    [3500, 500, 2],
  ])('from %d to %d Hz: both ends within a third of an octave', (fromHz, toHz, q) => {
    const found = notchOf(
      notched(f0Hz, (t) => fromHz * (toHz / fromHz) ** (t / SECONDS), q),
      f0Hz,
    )!;
    expect(Math.abs(Math.log2(found.fromHz / fromHz))).toBeLessThan(1 / 3);
    expect(Math.abs(Math.log2(found.toHz / toHz))).toBeLessThan(1 / 3);
  });

  it.each<[string, () => Float64Array]>([
    ['one that stands still', () => notched(f0Hz, () => 900, 1)],
    ['a steady tone', () => voices({ f0Hz, seconds: SECONDS })],
    ['a dying tone', () => times(voices({ f0Hz, seconds: SECONDS }), (t) => Math.exp(-2 * t))],
    ['two voices', () => voices({ f0Hz, seconds: SECONDS, cents: [-6, 6] })],
    [
      'a closing low-pass behind a square',
      () =>
        voices({
          f0Hz,
          seconds: SECONDS,
          amplitude: (n, t) => (n % 2 ? lowpassed(f0Hz, (at) => 300 + 4000 * Math.exp(-2 * at), 24)(n, t) : 0),
        }),
    ],
    [
      'a closing low-pass behind a saw over a sub',
      () =>
        voices({
          f0Hz: f0Hz / 2,
          seconds: SECONDS,
          mostPartials: 90,
          amplitude: (n, t) =>
            n === 1 ? 0.5 : n % 2 ? 0 : lowpassed(f0Hz, (at) => 300 + 4000 * Math.exp(-2 * at), 24)(n / 2, t),
        }),
    ],
    [
      'a closing low-pass',
      () => voices({ f0Hz, seconds: SECONDS, amplitude: lowpassed(f0Hz, (t) => 300 + 4000 * Math.exp(-2 * t), 24) }),
    ],
  ])('%s is none', (_, make) => {
    expect(notchOf(make(), f0Hz)).toBeUndefined();
  });
});
