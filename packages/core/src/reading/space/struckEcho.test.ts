import { hzOf, level, mixed, saw, shaped, tone, twoPole } from '../../../test/made/parts';
import { createRandom } from '../../../test/signals';
import { measureLevel } from '../level/levelContour';
import { struckEchoOf } from './struckEcho';
import { some } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 1.8;

/** A pluck whose filter closes within it, over a body that goes on, and a click of noise. */
function pluck(midi: number, closes: number): Float64Array {
  const random = createRandom(midi);
  const source = tone({ seconds: SECONDS, hz: hzOf(midi), amplitude: saw });
  const body = shaped(
    twoPole(source, 'low', (t) => 350 + 6000 * Math.exp(-t / closes), 1.2),
    level({ attack: 0.002, decay: 1.2, sustain: 0 }),
  );
  return mixed(
    body,
    Float64Array.from(body, (_, i) => 0.2 * (random() - 0.5) * Math.exp(-i / RATE_HZ / 0.008)),
  );
}

/** With repeats of their own time, level and feedback, as a delay line makes them. */
function echoed(dry: Float64Array, seconds: number, gain: number, feedback: number): Float64Array {
  const lag = Math.round(seconds * RATE_HZ);
  const wet = new Float64Array(dry.length);
  for (let i = lag; i < dry.length; i++) wet[i] = dry[i - lag] + feedback * wet[i - lag];
  return dry.map((x, i) => x + gain * wet[i]);
}

const echoOf = (midi: number, ...channels: Float64Array[]) =>
  struckEchoOf(measureLevel(channels, RATE_HZ, hzOf(midi)).waveform!);

describe('The echo of a stroke whose body goes on', () => {
  some(2).it.each([
    [48, 0.1, 0.2143, 0.35, 0.35],
    [62, 0.06, 0.3337, 0.5, 0.45],
    [55, 0.08, 0.2871, 0.25, 0.6],
    [67, 0.05, 0.1869, 0.4, 0.3],
  ])('of note %d, closing in %d s: %d s, gain %d, feedback %d', (midi, closes, seconds, gain, feedback) => {
    const dry = pluck(midi, closes);
    const { fit } = echoOf(midi, echoed(dry, seconds, gain, feedback))!;
    expect(Math.abs(fit.steps / 100 - seconds)).toBeLessThan(1e-4);
    expect(Math.abs(fit.levelDb - 20 * Math.log10(gain))).toBeLessThan(1.5);
    expect(Math.abs(fit.feedbackDb - 20 * Math.log10(feedback))).toBeLessThan(2);
  });

  it('is none of a stroke alone, nor of one that comes again as loud', () => {
    const dry = pluck(57, 0.08);
    expect(echoOf(57, dry)).toBeUndefined();
    expect(echoOf(57, echoed(dry, 0.3, 1, 0))).toBeUndefined();
  });

  it.each([3, 8])('is none of a filter that goes round at %d Hz, however deep', (rateHz) => {
    const source = tone({ seconds: SECONDS, hz: hzOf(45), amplitude: saw });
    const swept = twoPole(source, 'low', (t) => 400 * 2 ** (2 - 2 * Math.cos(2 * Math.PI * rateHz * t)), 1);
    expect(echoOf(45, shaped(swept, level({ decay: 2, sustain: 0 })))).toBeUndefined();
  });
});
