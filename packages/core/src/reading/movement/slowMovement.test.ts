import { sweeping, voices } from '../../../test/effects';
import { measureEnvelopes } from '../partials/partialEnvelopes';
import { measurePartials } from '../partials/partialFrames';
import { findSlowMovement, withoutNotches } from './slowMovement';

const RATE_HZ = 44100;
const F0_HZ = 110;
const SECONDS = 2.5;

/** What a notch of two poles and zeros lets through (RBJ's cookbook, analogue prototype). */
function through(hz: number, atHz: number): number {
  const x = hz / atHz;
  return Math.abs(1 - x * x) / Math.hypot(1 - x * x, x);
}

const spectrum = (n: number) => 1 / n;
const made = (amplitude: (n: number, t: number) => number) => voices({ f0Hz: F0_HZ, seconds: SECONDS, amplitude });
const way = sweeping(400, 1600, 0.32);
const notched = made((n, t) => spectrum(n) * through(n * F0_HZ, way(t)));

const found = (signal: Float64Array) =>
  findSlowMovement(measureEnvelopes(signal, RATE_HZ, F0_HZ, { mostPartials: 24 }), 0.05, SECONDS - 0.05);

describe('A notch that goes round less than once', () => {
  const slow = found(notched)!;

  it('is told with its rate, middle and width, and where it begins', () => {
    expect(slow.mover).toBe('notch');
    expect(Math.abs(slow.rateHz / 0.32 - 1)).toBeLessThan(0.06);
    expect(Math.abs(Math.log2(slow.middle / 800))).toBeLessThan(0.05);
    expect(Math.abs(slow.width / 2 - 1)).toBeLessThan(0.06);
    const atStart = slow.startCycles - slow.rateHz * 0.05;
    expect(Math.cos(2 * Math.PI * atStart)).toBeGreaterThan(0.98);
  });

  it('is taken off the partials, within 1.5 dB but where little is left of them', () => {
    const frames = measurePartials(notched, RATE_HZ, () => F0_HZ, 0.02)!;
    const { amplitudes, count } = withoutNotches(frames, slow.levelAt);
    const strays = [...frames.seconds.keys()].flatMap((t) =>
      Array.from({ length: 20 }, (_, n) => {
        const wanted = spectrum(n + 1);
        const lost = through((n + 1) * F0_HZ, way(frames.seconds[t])) < 0.4;
        return lost ? [] : [Math.abs(20 * Math.log10(amplitudes[t * count + n] / amplitudes[t * count] / wanted))];
      }).flat(),
    );
    strays.sort((a, b) => a - b);
    expect(strays[Math.floor(0.9 * strays.length)]).toBeLessThan(1.5);
  });
});

it.each<[string, Float64Array]>([
  ['a steady tone', made(spectrum)],
  ['a closing filter', made((n, t) => spectrum(n) / (1 + ((n * F0_HZ) / (300 + 4000 * Math.exp(-2 * t))) ** 2))],
  ['a filter that opens and closes once', made((n, t) => spectrum(n) / (1 + ((n * F0_HZ) / way(t)) ** 2))],
  ['a notch that stands', made((n) => spectrum(n) * through(n * F0_HZ, 800))],
  ['two voices that beat', voices({ f0Hz: F0_HZ, seconds: SECONDS, cents: [-9, 9] })],
  ['a pulse whose width goes round', made((n, t) => Math.sin(Math.PI * n * (0.3 + 0.1 * Math.sin(4 * t))) / n)],
])('%s has none', (_, signal) => {
  expect(found(signal)).toBeUndefined();
});
