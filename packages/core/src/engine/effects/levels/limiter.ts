import { gainFromDecibels } from '../../../dsp/decibels';
import { INTERPOLATOR_LATENCY, OVERSAMPLING, createDelay, createInterpolator } from '../../../dsp/halfband';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DC_SERVO_SECONDS, createDcServo } from './dcServo';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';

type Limiter = EffectOf<'limiter'>;

/** Time in which the gain goes down before a peak. */
const AHEAD_SECONDS = 0.0015;
/** Kept free under the ceiling for what falls between the samples that peaks are looked for in. */
const MARGIN = gainFromDecibels(-0.05);

/**
 * Keeps true peaks under a ceiling: the gain that each peak between the samples needs (four times
 * oversampled, ITU-R BS.1770 annex 2) is held for the time ahead as a sliding minimum, comes back with the
 * release, and is smoothed by a mean over the same time, which is complete when the peak arrives (our own
 * arrangement of common parts).
 */
export const limiter: EffectModel<Limiter> = {
  tailSeconds: () => DC_SERVO_SECONDS,
  create(sampleRateHz) {
    const ahead = Math.round(AHEAD_SECONDS * sampleRateHz);
    const interpolators = [createInterpolator(), createInterpolator()];
    const fine = [new Float64Array(OVERSAMPLING * BLOCK_SAMPLES), new Float64Array(OVERSAMPLING * BLOCK_SAMPLES)];
    const latency = INTERPOLATOR_LATENCY + ahead;
    const delays = [createDelay(latency, BLOCK_SAMPLES), createDelay(latency, BLOCK_SAMPLES)];
    /** Gains that the last samples need, and those that are averaged. */
    const needed = new Float64Array(ahead + 1).fill(1);
    const averaged = new Float64Array(ahead).fill(1);
    const into = new Ramp();
    // A fast gain takes more off one half of a crooked wave than off the other, which leaves a constant
    // behind.
    const servo = createDcServo(sampleRateHz);
    const constants = [new Ramp(), new Ramp()];
    let limited = false;
    /**
     * Least of `needed`, for how many samples yet, the gain with its release, the sum of `averaged`, the last
     * gain.
     */
    const state = { least: 1, left: 0, released: 1, sum: ahead, gain: 1 };
    let at = 0;
    let mean = 0;

    function leastWith(gain: number): number {
      needed[at] = gain;
      at = (at + 1) % needed.length;
      state.left--;
      if (gain <= state.least) {
        state.least = gain;
        state.left = needed.length;
      } else if (state.left <= 0) {
        state.least = Infinity;
        for (let k = 0; k < needed.length; k++) {
          const value = needed[(at + k) % needed.length];
          if (value > state.least) continue;
          state.least = value;
          state.left = k + 1;
        }
      }
      return state.least;
    }

    return {
      latency,
      clear() {
        for (const part of [...interpolators, ...delays, servo, ...constants]) part.clear();
        needed.fill(1);
        averaged.fill(1);
        limited = false;
        into.clear();
        Object.assign(state, { least: 1, left: 0, released: 1, sum: ahead, gain: 1 });
      },
      run({ slots }, values, left, right) {
        const ceiling = gainFromDecibels(values[slots.ceilingDb]) * MARGIN;
        const release = 1 - Math.exp(-1 / (sampleRateHz * values[slots.releaseSeconds]));
        into.to(gainFromDecibels(values[slots.driveDb]), BLOCK_SAMPLES);
        into.amplify(left, right);
        constants[0].to(servo.constants[0], BLOCK_SAMPLES);
        constants[1].to(servo.constants[1], BLOCK_SAMPLES);
        takeConstant(left, constants[0]);
        takeConstant(right, constants[1]);
        interpolators[0].run(left, fine[0], 0, BLOCK_SAMPLES);
        interpolators[1].run(right, fine[1], 0, BLOCK_SAMPLES);
        delays[0].run(left, 0, BLOCK_SAMPLES);
        delays[1].run(right, 0, BLOCK_SAMPLES);
        const [fineL, fineR] = fine;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          let peak = 0;
          for (let k = OVERSAMPLING * i; k < OVERSAMPLING * (i + 1); k++) {
            peak = Math.max(peak, Math.abs(fineL[k]), Math.abs(fineR[k]));
          }
          const least = leastWith(peak > ceiling ? ceiling / peak : 1);
          state.released += least < state.released ? least - state.released : release * (least - state.released);
          state.sum += state.released - averaged[mean];
          averaged[mean] = state.released;
          mean = (mean + 1) % averaged.length;
          state.gain = Math.min(1, state.sum / ahead);
          left[i] *= state.gain;
          right[i] *= state.gain;
        }
        // What is only delayed is left as it was; once anything was turned down, every block counts:
        // those that end under the ceiling are not chosen by chance, but by where the wave stands.
        limited ||= state.gain < 1;
        if (limited) servo.follow(left, right, state.gain);
      },
      hiddenSamples: () => latency,
      reductionDb: () => -20 * Math.log10(state.gain),
    };
  },
};

function takeConstant(signal: Float64Array, constant: Ramp): void {
  if (constant.value !== 0 || constant.step !== 0) {
    for (let i = 0; i < BLOCK_SAMPLES; i++) signal[i] -= constant.value + (i + 1) * constant.step;
  }
  constant.advance(BLOCK_SAMPLES);
}
