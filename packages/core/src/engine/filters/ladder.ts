import { gainFromDecibels } from '../../dsp/decibels';
import { defineFilter, integratorGain } from './filter';
import { forgetSmall } from './stateVariable';

const POLES = 4;
/** Feedback at which the linear ladder rings for ever (Stilson & Smith 1996). */
const SELF_OSCILLATION = 4;

const G = 0;
const FEEDBACK = 1;
const DRIVE = 2;

/** tanh by its continued fraction, exact to 3 % where it bends, and held at ±1 beyond. */
export function softLimit(x: number): number {
  if (x > 3) return 1;
  if (x < -3) return -1;
  return (x * (27 + x * x)) / (27 + 9 * x * x);
}

/**
 * Four one-pole low-passes in a loop, without delay in it: H(s) = 1 / ((1 + s)⁴ + k), 24 dB per octave,
 * ringing by itself from k = 4 on (Zavalishin, The Art of VA Filter Design, 5.3). The loop is driven into a
 * soft limit, which tames the ringing; small signals see the linear filter at every drive.
 */
export const ladder = defineFilter<Float64Array>({
  createState: () => new Float64Array(POLES),
  clear: (state) => void state.fill(0),
  tune({ slots }, values, { cutoffHz, sampleRateHz }, out) {
    out[G] = integratorGain(cutoffHz, sampleRateHz);
    out[FEEDBACK] = (SELF_OSCILLATION * values[slots.resonance]) / 100;
    out[DRIVE] = gainFromDecibels(values[slots.driveDb]);
  },
  run(s, _program, signal, from, to, at, step) {
    let s1 = s[0];
    let s2 = s[1];
    let s3 = s[2];
    let s4 = s[3];
    let g = at[G];
    let k = at[FEEDBACK];
    let drive = at[DRIVE];
    for (let i = from; i < to; i++) {
      const a = g / (1 + g);
      const b = 1 / (1 + g);
      // What the four states alone would put out, for the loop without delay.
      const rest = b * (a * (a * (a * s1 + s2) + s3) + s4);
      const u = (signal[i] - k * rest) / (1 + k * a * a * a * a);
      const x = softLimit(drive * u) / drive;
      const v1 = a * (x - s1);
      const y1 = v1 + s1;
      s1 = y1 + v1;
      const v2 = a * (y1 - s2);
      const y2 = v2 + s2;
      s2 = y2 + v2;
      const v3 = a * (y2 - s3);
      const y3 = v3 + s3;
      s3 = y3 + v3;
      const v4 = a * (y3 - s4);
      const y4 = v4 + s4;
      s4 = y4 + v4;
      signal[i] = y4;
      g += step[G];
      k += step[FEEDBACK];
      drive += step[DRIVE];
    }
    s[0] = forgetSmall(s1);
    s[1] = forgetSmall(s2);
    s[2] = forgetSmall(s3);
    s[3] = forgetSmall(s4);
  },
});
