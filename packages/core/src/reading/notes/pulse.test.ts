import { times, voices } from '../../../test/effects';
import { createRandom } from '../../../test/signals';
import { findPulse } from './pulse';

const RATE_HZ = 44100;
const SECONDS = 4;
const FIRST_SECONDS = 0.15;

/** Notes of one pitch that come up slowly, each before the one before it has gone. */
function swells(stepSeconds: number): Float64Array {
  const sum = new Float64Array(SECONDS * RATE_HZ);
  for (let at = FIRST_SECONDS, n = 0; at < SECONDS - stepSeconds; at += stepSeconds, n++) {
    const seconds = 1.6 * stepSeconds;
    const swell = (t: number) => Math.min(1, t / 0.08, (seconds - t) / (0.6 * stepSeconds)) ** 2;
    // The same note a little off, so that phases are its own.
    const note = times(voices({ f0Hz: 147 * (1 + 0.0003 * (n % 3)), seconds }), swell);
    note.forEach((x, i) => (sum[Math.round(at * RATE_HZ) + i] += x));
  }
  return sum;
}

it.each([0.118, 0.1875, 0.31])('tells the step of notes that come up slowly, %d s, and where they begin', (step) => {
  const pulse = findPulse(swells(step), RATE_HZ, [])!;
  expect(Math.abs(pulse.stepSeconds / step - 1)).toBeLessThan(0.005);
  const off = (pulse.firstSeconds - FIRST_SECONDS) / step;
  expect(Math.abs(off - Math.round(off)) * step).toBeLessThan(0.05);
  const starts = [2, 3, 5, 8].map((n) => pulse.firstSeconds + n * pulse.stepSeconds);
  for (const at of starts) {
    expect(pulse.likeness(at)).toBeGreaterThan(0.5);
    expect(pulse.likeness(at + pulse.stepSeconds / 2)).toBeLessThan(0.3);
  }
});

it('tells none where nothing comes round', () => {
  const random = createRandom(3);
  const held = times(voices({ f0Hz: 147, seconds: SECONDS }), (t) => Math.min(1, t / 0.1));
  expect(findPulse(held, RATE_HZ, [])).toBeUndefined();
  const noise = held.map(() => 0.2 * (random() - 0.5));
  expect(findPulse(noise, RATE_HZ, [])).toBeUndefined();
});

it('knows notes that rise together from a vibrato', () => {
  const vibrato = voices({ f0Hz: 220, seconds: SECONDS, cycles: (t) => -0.6 * Math.cos(2 * Math.PI * 5 * t) });
  const swung = findPulse(vibrato, RATE_HZ, []);
  const struck = findPulse(swells(0.2), RATE_HZ, [])!;
  expect(swung?.together ?? 0).toBeLessThan(struck.together);
});
