import { BLOCK_SAMPLES } from '../../sources/source';
import { createCrossover } from '../chain/crossover';
import { DelayLine } from '../chain/delayLine';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { swingsToDc } from './swingsToDc';
import { CROSSOVER_Q, ringing, rounds } from '../chain/ringing';

const MOST_SECONDS = 0.075;
const MOST_VOICES = 8;

/**
 * Late copies of a signal whose delays swing, evenly apart in phase and from side to side. What lies under
 * the low cut is let through as it came, so that the sub stays clean and in the middle. It mixes itself,
 * since what is dry has to go through the same split: beside the signal as it came the lows would stand out
 * of phase.
 */
export const chorus: EffectModel<EffectOf<'chorus'>> = {
  leavesDc: swingsToDc,
  standsApart: true,
  mixesItself: true,
  tailSeconds: (effect) =>
    effect.delaySeconds +
    effect.depthSeconds +
    ringing(effect.lowCutHz, CROSSOVER_Q) +
    rounds(effect.feedback, effect.delaySeconds + effect.depthSeconds),
  create(sampleRateHz) {
    const most = Math.ceil(MOST_SECONDS * sampleRateHz);
    const lines = [new DelayLine(most), new DelayLine(most)];
    const crossovers = [createCrossover(sampleRateHz), createCrossover(sampleRateHz)];
    const highs = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
    const [delay, depth, feedback, width, mix] = Array.from({ length: 5 }, () => new Ramp());
    const ramps = [delay, depth, feedback, width, mix];
    /** Phase of the first voice in cycles, and what was fed back last. */
    const state = { cycles: 0, backL: 0, backR: 0 };
    /**
     * Of each voice on each side, how far ahead of the first one it is: cosine and sine, at the start of a
     * block and their steps.
     */
    const ahead = [new Float64Array(4 * MOST_VOICES), new Float64Array(4 * MOST_VOICES)];

    /** Sets out for where the voices stand in their turn at the end of the block. */
    function placeVoices(voices: number, wide: number, wideNext: number): void {
      for (let side = 0; side < 2; side++) {
        for (let v = 0; v < voices; v++) {
          // The sides are a quarter of a turn apart.
          const angle = (2 * Math.PI * v) / voices + side * 0.5 * Math.PI * wide;
          const next = (2 * Math.PI * v) / voices + side * 0.5 * Math.PI * wideNext;
          ahead[side][4 * v] = Math.cos(angle);
          ahead[side][4 * v + 1] = Math.sin(angle);
          ahead[side][4 * v + 2] = (Math.cos(next) - Math.cos(angle)) / BLOCK_SAMPLES;
          ahead[side][4 * v + 3] = (Math.sin(next) - Math.sin(angle)) / BLOCK_SAMPLES;
        }
      }
    }

    return {
      latency: 0,
      clear() {
        for (const part of [...lines, ...crossovers, ...ramps]) part.clear();
        state.cycles = 0;
        state.backL = 0;
        state.backR = 0;
      },
      run({ slots, onlyAdded }, values, left, right) {
        const voices = Math.round(values[slots.voices]);
        for (let c = 0; c < 2; c++) {
          crossovers[c].tune(values[slots.lowCutHz]);
          crossovers[c].split(c === 0 ? left : right, highs[c]);
        }
        delay.to(values[slots.delaySeconds] * sampleRateHz, BLOCK_SAMPLES);
        depth.to(values[slots.depthSeconds] * sampleRateHz, BLOCK_SAMPLES);
        feedback.to(values[slots.feedback] / 100, BLOCK_SAMPLES);
        width.to(values[slots.width] / 100, BLOCK_SAMPLES);
        mix.to(values[slots.mix] / 100, BLOCK_SAMPLES);
        const through = onlyAdded ? 0 : 1;
        placeVoices(voices, width.value, width.value + BLOCK_SAMPLES * width.step);
        const turn = values[slots.rateHz] / sampleRateHz;
        // The first voice goes round by turning a pointer, the others stand at fixed angles to it: one sine a
        // block is enough.
        let cos = Math.cos(2 * Math.PI * state.cycles);
        let sin = Math.sin(2 * Math.PI * state.cycles);
        const turnCos = Math.cos(2 * Math.PI * turn);
        const turnSin = Math.sin(2 * Math.PI * turn);
        const [aheadL, aheadR] = ahead;
        const gain = 1 / Math.sqrt(voices);
        const backGain = 1 / voices;
        const [lineL, lineR] = lines;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const highL = highs[0][i];
          const highR = highs[1][i];
          const back = feedback.value + (i + 1) * feedback.step;
          lineL.write(highL + back * state.backL);
          lineR.write(highR + back * state.backR);
          const middle = delay.value + (i + 1) * delay.step;
          const swing = depth.value + (i + 1) * depth.step;
          const wide = width.value + (i + 1) * width.step;
          const cosBefore = cos;
          cos = cos * turnCos - sin * turnSin;
          sin = sin * turnCos + cosBefore * turnSin;
          let sumL = 0;
          let sumR = 0;
          let backL = 0;
          let backR = 0;
          for (let v = 0; v < voices; v++) {
            const p = 4 * v;
            const swingL = sin * (aheadL[p] + i * aheadL[p + 2]) + cos * (aheadL[p + 1] + i * aheadL[p + 3]);
            const swingR = sin * (aheadR[p] + i * aheadR[p + 2]) + cos * (aheadR[p + 1] + i * aheadR[p + 3]);
            const distance = Math.max(1, middle + 0.5 * swing * (1 + swingL));
            const distanceR = Math.max(1, middle + 0.5 * swing * (1 + swingR));
            const l = lineL.read(distance);
            const r = lineR.read(distanceR);
            const aside = voices === 1 ? 0 : wide * (v % 2 === 0 ? 1 : -1) * 0.5;
            sumL += (1 + aside) * l;
            sumR += (1 - aside) * r;
            backL += l;
            backR += r;
          }
          state.backL = backGain * backL;
          state.backR = backGain * backR;
          const wet = mix.value + (i + 1) * mix.step;
          left[i] = through * (left[i] + (1 - wet) * highL) + wet * gain * sumL;
          right[i] = through * (right[i] + (1 - wet) * highR) + wet * gain * sumR;
        }
        state.cycles = (state.cycles + BLOCK_SAMPLES * turn) % 1;
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => most,
    };
  },
};
