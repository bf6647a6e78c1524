import { createRandom } from '../../../test/signals';
import { fitSources } from './plainSources';
import { isSubUnderRich, rootMultiple } from './root';

const COUNT = 30;
const series = (amplitude: (n: number) => number) => {
  const amplitudes = Array.from({ length: COUNT }, (_, i) => Math.abs(amplitude(i + 1)));
  const top = Math.max(...amplitudes);
  return amplitudes.map((a) => 20 * Math.log10(a / top + 1e-6));
};
// Fourier series of the plain waveforms.
const saw = (n: number) => 1 / n;
const square = (n: number) => (n % 2 ? 1 / n : 0);
const triangle = (n: number) => (n % 2 ? 1 / (n * n) : 0);
const pulse = (width: number) => (n: number) => Math.sin(Math.PI * n * width) / n;
const sine = (n: number) => (n === 1 ? 1 : 0);
/** A waveform whose fundamental is a multiple of the lowest partial. */
const at = (multiple: number, wave: (n: number) => number) => (n: number) =>
  n % multiple === 0 ? wave(n / multiple) : 0;
/** A Butterworth low-pass. */
const low = (cutoff: number, order: number, wave: (n: number) => number) => (n: number) =>
  wave(n) / Math.sqrt(1 + (n / cutoff) ** (2 * order));
const sum =
  (...waves: readonly [number, (n: number) => number][]) =>
  (n: number) =>
    waves.reduce((all, [gain, wave]) => all + gain * wave(n), 0);

const words = (levels: readonly number[]) =>
  fitSources(levels)!
    .parts.map(({ shape, multiple }) => `${shape} ${multiple}`)
    .sort()
    .join(', ');

describe('Plain waveforms that add up to partials', () => {
  it.each<[string, (n: number) => number]>([
    ['saw 1', saw],
    ['square 1', square],
    ['triangle 1', triangle],
    ['sine 1', sine],
    ['saw 1', low(5, 2, saw)],
    ['square 1', low(9, 4, square)],
    ['saw 2, sine 1', sum([1, at(2, saw)], [0.4, sine])],
    ['saw 2, sine 1', low(7, 2, sum([1, at(2, saw)], [0.8, sine]))],
    ['saw 2, sine 1', low(12, 4, sum([0.6, at(2, saw)], [1, sine]))],
    ['saw 1, saw 2', sum([1, saw], [0.8, at(2, saw)])],
    ['sine 4, square 1', sum([1, square], [0.5, at(4, sine)])],
    ['sine 1, sine 2, sine 5', sum([1, sine], [0.4, at(2, sine)], [0.3, at(5, sine)])],
    ['sine 1, sine 14, sine 2', sum([1, sine], [0.4, at(2, sine)], [0.15, at(14, sine)])],
  ])('%s', (wanted, wave) => {
    const levels = series(wave);
    expect(words(levels)).toBe(wanted);
    expect(fitSources(levels)!.errorDb).toBeLessThan(1.5);
  });

  it.each([0.12, 0.2, 0.3, 0.37])('a pulse of %d, its width within 0.015', (width) => {
    const { parts } = fitSources(series(pulse(width)))!;
    expect(parts).toHaveLength(1);
    expect(Math.abs(parts[0].pulseWidth! - width)).toBeLessThan(0.015);
  });

  it('levels of parts within 1.5 dB', () => {
    // The powers of both series: 6 dB apart by amplitude, and a saw has π²/6 times the power of its first.
    const { parts } = fitSources(series(sum([1, sine], [0.5, at(2, saw)])))!;
    const [sub, main] = parts;
    expect(main.levelDb - sub.levelDb).toBeCloseTo(20 * Math.log10(0.5) + 10 * Math.log10(Math.PI ** 2 / 6), 0);
  });

  it('nothing of silence, and little of what no sum explains', () => {
    expect(fitSources([])).toBeUndefined();
    const random = createRandom(5);
    const odd = Array.from({ length: COUNT }, () => -40 * random());
    expect(fitSources(odd)!.errorDb).toBeGreaterThan(3);
  });
});

describe('The partial that a tone is named by', () => {
  const multipleOf = (wave: (n: number) => number) => {
    const levels = series(wave);
    return isSubUnderRich(levels) ? 2 : rootMultiple(levels, fitSources(levels));
  };
  it.each<[string, number, (n: number) => number]>([
    ['a saw', 1, saw],
    ['a square', 1, square],
    ['a saw over a sine', 2, sum([1, at(2, saw)], [0.7, sine])],
    ['a square over a triangle', 2, sum([1, at(2, square)], [0.6, triangle])],
    ['a saw over a louder sine behind a low-pass', 2, low(6, 2, sum([0.6, at(2, saw)], [1, sine]))],
    ['a saw with one an octave up', 1, sum([1, saw], [0.8, at(2, saw)])],
    ['a sine with octaves', 1, sum([1, sine], [0.5, at(2, sine)], [0.3, at(4, sine)])],
    ['a sine with a little of its second', 1, sum([1, sine], [0.1, at(2, sine)], [0.02, at(4, sine)])],
    [
      'an organ with a stop an octave lower',
      2,
      (n) => ({ 1: 0.7, 2: 1, 3: 0.5, 4: 0.7, 6: 0.5, 8: 0.4, 12: 0.3, 16: 0.3 })[n] ?? 0,
    ],
    ['an organ', 1, (n) => ({ 1: 1, 2: 0.7, 3: 0.5, 4: 0.5, 6: 0.3, 8: 0.3 })[n] ?? 0],
  ])('of %s is number %i', (_name, wanted, wave) => {
    expect(multipleOf(wave)).toBe(wanted);
  });
});
