import { forgetSmall } from '../../filters/stateVariable';
import { integratorGain } from '../../filters/filter';
import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { swingsToDc } from './swingsToDc';
import { rounds } from '../chain/ringing';

const MOST_STAGES = 24;
/**
 * Corners nearer to half the rate would hold what lies there for long, which feedback turns into a whistle.
 */
const HIGHEST_SHARE = 0.4;

/**
 * First-order all-passes in a row (trapezoidal: Zavalishin, The Art of VA Filter Design, 5), their corners
 * spread around a centre that swings. With the dry signal every pair of stages makes a notch. Each side
 * swings by itself.
 */
export const phaser: EffectModel<EffectOf<'phaser'>> = {
  leavesDc: swingsToDc,
  tailSeconds(effect) {
    const lowestHz = effect.centreHz * 2 ** (-(effect.spreadOctaves + effect.depthOctaves) / 2);
    // The longest that a first-order all-pass holds anything is 1/(π·f), at the bottom.
    const round = effect.stages / (Math.PI * Math.max(1, lowestHz));
    // Where many corners come together a resonance is held a little longer still.
    return 3 * round + 1.5 * rounds(effect.feedback, round);
  },
  create(sampleRateHz) {
    const states = [new Float64Array(MOST_STAGES), new Float64Array(MOST_STAGES)];
    /** Share g / (1 + g) of each stage at the start of the block, and its step; both NaN before the first. */
    const shares = [0, 1].map(() => new Float64Array(MOST_STAGES).fill(NaN));
    const steps = [0, 1].map(() => new Float64Array(MOST_STAGES));
    const feedback = new Ramp();
    const backs = new Float64Array(2);
    let cycles = 0;

    function tune(side: number, stages: number, centreHz: number, spreadOctaves: number): void {
      for (let n = 0; n < stages; n++) {
        const hz = centreHz * 2 ** (spreadOctaves * ((n + 0.5) / stages - 0.5));
        const g = integratorGain(Math.min(hz, HIGHEST_SHARE * sampleRateHz), sampleRateHz);
        const share = g / (1 + g);
        if (Number.isNaN(shares[side][n])) shares[side][n] = share;
        steps[side][n] = (share - shares[side][n]) / BLOCK_SAMPLES;
      }
    }

    function runSide(side: number, stages: number, signal: Float64Array): void {
      const own = states[side];
      const at = shares[side];
      const step = steps[side];
      let back = backs[side];
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        let x = signal[i] + (feedback.value + (i + 1) * feedback.step) * back;
        for (let n = 0; n < stages; n++) {
          at[n] += step[n];
          const v = at[n] * (x - own[n]);
          const low = v + own[n];
          own[n] = low + v;
          x = 2 * low - x;
        }
        back = x;
        signal[i] = x;
      }
      backs[side] = forgetSmall(back);
      for (let n = 0; n < stages; n++) own[n] = forgetSmall(own[n]);
    }

    return {
      latency: 0,
      clear() {
        for (const state of states) state.fill(0);
        for (const share of shares) share.fill(NaN);
        feedback.clear();
        backs.fill(0);
        cycles = 0;
      },
      run({ slots }, values, left, right) {
        const stages = 2 * Math.round(values[slots.stages] / 2);
        cycles = (cycles + (BLOCK_SAMPLES * values[slots.rateHz]) / sampleRateHz) % 1;
        feedback.to(values[slots.feedback] / 100, BLOCK_SAMPLES);
        for (let side = 0; side < 2; side++) {
          const swing = Math.sin(2 * Math.PI * (cycles + side * values[slots.apartCycles]));
          const centreHz = values[slots.centreHz] * 2 ** (0.5 * values[slots.depthOctaves] * swing);
          tune(side, stages, centreHz, values[slots.spreadOctaves]);
          runSide(side, stages, side === 0 ? left : right);
        }
        feedback.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => MOST_STAGES,
    };
  },
};
