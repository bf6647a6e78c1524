import { type Amplitude, falling, formants, pulse, saw, square, tone } from '../../../test/made/parts';
import { averageLevelsDb } from '../partials/averageLevels';
import { fitContour } from '../level/fitContour';
import { measureLevel } from '../level/levelContour';
import { measurePartials } from '../partials/partialFrames';
import { fitSources } from '../partials/plainSources';
import { fitSweep } from './cutoffCurve';
import { findFormants } from './formants';

const RATE = 44100;

function formantsOf(hz: number, amplitude: Amplitude) {
  const signal = tone({ seconds: 1.2, hz, amplitude });
  const frames = measurePartials(signal, RATE, () => hz, 0.02);
  const fitted = fitContour(measureLevel([signal], RATE, hz));
  return findFormants(frames, fitSources(averageLevelsDb(frames, fitted)), 0.02, 1.18);
}

describe('Formants', () => {
  // First two of vowels, Peterson & Barney 1952, table II, men.
  it.each([
    [98, 660, 1720],
    [82, 270, 2290],
    [110, 570, 1840],
  ])('at %d Hz: %d and %d Hz within a quarter of an octave', (hz, first, second) => {
    const found = formantsOf(
      hz,
      formants(hz, () => [first, second], 90),
    );
    for (const wanted of [first, second])
      expect(found.some(({ fromHz }) => Math.abs(Math.log2(fromHz / wanted)) < 1 / 4)).toBe(true);
  });

  it('that move: where they begin and end', () => {
    const hz = 87;
    const move = (from: number, to: number) => (t: number) => from * (to / from) ** Math.min(1, t / 1.2);
    const [low, high] = [move(350, 750), move(2200, 1300)];
    const found = formantsOf(
      hz,
      formants(hz, (t) => [low(t), high(t)], 120),
    );
    expect(found).toHaveLength(2);
    [350, 2200].forEach((wanted, i) => expect(Math.abs(Math.log2(found[i].fromHz / wanted))).toBeLessThan(0.25));
    [750, 1300].forEach((wanted, i) => expect(Math.abs(Math.log2(found[i].toHz / wanted))).toBeLessThan(0.25));
  });

  it.each<[string, Amplitude]>([
    ['a saw', saw],
    ['a square', square],
    ['a pulse of 10 %', pulse(0.1)],
    ['a saw behind a low-pass', (n) => 1 / n / (1 + (n / 8) ** 4)],
    ['a saw behind a low-pass that closes', (n, t) => 1 / n / (1 + ((n * 110) / falling(4000, 400, 0.2)(t)) ** 4)],
  ])('are not told of %s', (_name, amplitude) => {
    expect(formantsOf(110, amplitude)).toEqual([]);
  });
});

describe('The way of a cutoff', () => {
  it.each([
    [12, 8, 0.1],
    [11.5, 9, 0.06],
    [8, 11, 0.3],
  ])('from %d to %d octaves by %d s is found from late and scattered values', (from, to, timeConstant) => {
    const seconds = Array.from({ length: 60 }, (_, i) => 0.05 + 0.015 * i);
    const values = seconds.map((t, i) => to + (from - to) * Math.exp(-t / timeConstant) + 0.03 * Math.sin(7 * i));
    const found = fitSweep(seconds, values)!;
    expect(Math.abs(found.rest + found.range - from)).toBeLessThan(0.25);
    expect(Math.abs(found.timeConstant / timeConstant - 1)).toBeLessThan(0.12);
  });

  it('that goes round is no such curve', () => {
    const seconds = Array.from({ length: 60 }, (_, i) => 0.02 * i);
    expect(
      fitSweep(
        seconds,
        seconds.map((t) => 10 + Math.sin(9 * t)),
      ),
    ).toBeUndefined();
  });
});
