import { createRandom } from '../../../test/signals';
import { followPulseWidth } from './pulseWidth';

const STEP_SECONDS = 0.01;
const SECONDS = 2;
const PARTIALS = Array.from({ length: 16 }, (_, i) => i + 1);

/** Levels of partials over time; `level` in dB of partial n at a time. */
function lines(level: (n: number, seconds: number) => number) {
  const seconds = Float64Array.from({ length: SECONDS / STEP_SECONDS }, (_, i) => i * STEP_SECONDS);
  return { seconds, partials: PARTIALS, values: PARTIALS.map((n) => seconds.map((t) => level(n, t))) };
}

/** The Fourier series of a pulse (common practice), no deeper than a window sees. */
const pulse = (n: number, width: number) => Math.max(-35, 20 * Math.log10(Math.abs(Math.sin(Math.PI * n * width)) / n));
const round = (middle: number, depth: number, rateHz: number, start: number) => (seconds: number) =>
  middle + depth * Math.sin(2 * Math.PI * (rateHz * seconds + start));

describe('The width of a pulse that goes round', () => {
  it.each([
    [0.3, 0.1, 1.3, 0],
    [0.2, 0.12, 0.8, 0.4],
    [0.4, 0.05, 3.1, 0.7],
    [0.5, 0.15, 1.1, 0.2],
  ])('round %d of the period by %d, at %d Hz from %d of a turn on', (middle, depth, rateHz, start) => {
    const width = round(middle, depth, rateHz, start);
    const found = followPulseWidth(lines((n, t) => pulse(n, width(t))))!;
    expect(found.rateHz).toBeCloseTo(rateHz, 1);
    expect(found.middle).toBeCloseTo(middle, 1);
    expect(Math.abs(found.depth - depth)).toBeLessThan(0.02);
    // About a half a width is as good as what is left of the period.
    const apart = found.startCycles - start + (middle === 0.5 ? 0.25 : 0.5);
    const cycle = middle === 0.5 ? 0.5 : 1;
    expect(Math.abs(apart - cycle * Math.floor(apart / cycle) - cycle / 2)).toBeLessThan(0.05);
    expect(found.explained).toBeGreaterThan(0.8);
  });

  it('behind a filter, with a fall and noise', () => {
    const width = round(0.3, 0.1, 1.7, 0);
    const random = createRandom(3);
    const found = followPulseWidth(
      lines((n, t) => pulse(n, width(t)) - 10 * Math.log10(1 + (n / 5) ** 4) - 6 * t + 2 * (random() - 0.5)),
    )!;
    expect(found.rateHz).toBeCloseTo(1.7, 1);
    expect(Math.abs(found.depth - 0.1)).toBeLessThan(0.02);
  });

  it.each<[string, (n: number, t: number) => number]>([
    ['a pulse that stands still', (n) => pulse(n, 0.3)],
    ['a tremolo', (n, t) => pulse(n, 0.3) + 8 * Math.sin(2 * Math.PI * 2 * t)],
    ['a filter that goes round', (n, t) => -10 * Math.log10(1 + (n / (5 + 4 * Math.sin(2 * Math.PI * t))) ** 4)],
    ['a filter that closes', (n, t) => -10 * Math.log10(1 + (n / (12 * Math.exp(-2 * t))) ** 4)],
    ['a chorus', (n, t) => 10 * Math.log10(1.8 + 1.7 * Math.cos(2 * Math.PI * n * (2.3 + 0.4 * Math.sin(4 * t))))],
    ['two voices that beat', (n, t) => 10 * Math.log10(1.8 + 1.7 * Math.cos(2 * Math.PI * n * 0.8 * t))],
  ])('is not told of %s', (_, level) => {
    expect(followPulseWidth(lines(level))).toBeUndefined();
  });
});
