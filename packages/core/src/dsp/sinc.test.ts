import { decibels } from '../../test/signals';
import { readEvenly, readSinc, resample } from './sinc';

const sineAt = (hz: number, rate: number, length: number) =>
  Float64Array.from({ length }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate));

it.each([
  [1000, -90],
  [10000, -85],
  [17000, -85],
])('reads a %i Hz sine between its samples at 44.1 kHz with an error under %i dB', (hz, limitDb) => {
  const signal = sineAt(hz, 44100, 400);
  let worst = 0;
  for (let x = 100; x < 300; x += 0.137) {
    worst = Math.max(worst, Math.abs(readSinc(signal, x) - Math.sin((2 * Math.PI * hz * x) / 44100)));
  }
  expect(decibels(worst)).toBeLessThan(limitDb);
});

it('brings a rate down without folding what lies above', () => {
  const tone = resample(sineAt(15000, 44100, 8820), 0.5).slice(100, -100);
  expect(decibels(Math.max(...tone.map(Math.abs)))).toBeLessThan(-80);
  const kept = resample(sineAt(3000, 44100, 8820), 0.5).slice(100, -100);
  expect(Math.max(...kept.map(Math.abs))).toBeCloseTo(1, 1);
});

it.each([0.31, 1, 7.7, 90])(
  'reads at even distances of %d samples what it reads one by one, also beyond the ends',
  (step) => {
    const signal = sineAt(700, 44100, 30000);
    const count = Math.ceil(30100 / step);
    const cutoff = Math.min(1, 1 / step);
    const read = readEvenly(signal, step, count, -50.3);
    expect(read).toHaveLength(count);
    for (let i = 0; i < count; i += Math.ceil(count / 997)) {
      expect(read[i]).toBeCloseTo(readSinc(signal, -50.3 + i * step, cutoff), 9);
    }
  },
);
