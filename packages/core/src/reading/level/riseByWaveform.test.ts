import { harmonicTone, saw, square } from '../../../test/signals';
import { fitContour } from './fitContour';
import { measureLevel } from './levelContour';
import { some } from '../../../test/thorough';

const RATE = 44100;
const ONSET = 0.03;

/** A tone whose oscillators had run for a while when it rose in a straight line. */
function risen(f0Hz: number, amplitude: (n: number) => number, attackSeconds: number, ranSeconds: number) {
  return harmonicTone({
    f0Hz,
    amplitude,
    phase: (n) => 2 * Math.PI * n * f0Hz * ranSeconds,
    envelope: (t) => Math.max(0, Math.min(1, (t - ONSET) / attackSeconds)) * Math.exp(-2 * t),
  });
}

describe('A rise shorter than a period is told whatever phase the tone begins at', () => {
  const cases = [55, 87, 220].flatMap((f0Hz) =>
    [0.002, 0.004, 0.011].flatMap((attack) => [0, 0.0031, 0.0077].map((ran) => [f0Hz, attack, ran] as const)),
  );
  some(5).it.each(cases)('%d Hz, %d s, begun after %d s', (f0Hz, attack, ran) => {
    for (const amplitude of [saw, square]) {
      const { attackSeconds, onsetSeconds } = fitContour(
        measureLevel([risen(f0Hz, amplitude, attack, ran)], RATE, f0Hz),
      );
      expect(Math.abs(attackSeconds / attack - 1)).toBeLessThan(0.1);
      expect(Math.abs(onsetSeconds - ONSET)).toBeLessThan(0.0005);
    }
  });
});

it('is told of the first of two notes by its own period', () => {
  const first = risen(147, saw, 0.004, 0.002).subarray(0, 0.3 * RATE);
  const second = harmonicTone({ f0Hz: 220, amplitude: saw, seconds: 0.5 });
  const signal = Float32Array.from([...first, ...second]);
  expect(fitContour(measureLevel([signal], RATE, 220)).attackSeconds).toBeCloseTo(0.004, 3);
});

it('is left to the level where no period is like the next', () => {
  const slides = Float32Array.from({ length: RATE }, (_, i) => {
    const t = i / RATE - ONSET;
    const turns = 65 * t - 65 * 0.012 * 3 * (Math.exp(-t / 0.012) - 1);
    return t < 0 ? 0 : 0.5 * Math.min(1, t / 0.02) * Math.sin(2 * Math.PI * turns) * Math.exp(-t / 0.2);
  });
  const { attackSeconds } = fitContour(measureLevel([slides], RATE, 65));
  expect(attackSeconds).toBeGreaterThan(0.002);
  expect(attackSeconds).toBeLessThan(0.04);
});
