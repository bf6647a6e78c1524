import { gainFromDecibels } from '../../../dsp/decibels';
import { createDcBlock } from '../../output/dcBlock';
import { BLOCK_SAMPLES } from '../../sources/source';
import { createCrossover } from '../chain/crossover';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { CROSSOVER_Q, DC_BLOCK_SECONDS, ringing } from '../chain/ringing';

/** Corner under which nothing is made mono. */
const NO_MONO_HZ = 10;

/**
 * Takes what lies under a frequency out of the side of a signal. The middle goes through the same phases, so
 * that above the frequency everything stays where it stood.
 */
export function createMonoBelow(sampleRateHz: number) {
  const [middles, sides] = [createCrossover(sampleRateHz), createCrossover(sampleRateHz)];
  const [middle, side] = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
  return {
    clear() {
      middles.clear();
      sides.clear();
    },
    run(hz: number, left: Float64Array, right: Float64Array): void {
      if (hz <= NO_MONO_HZ) return;
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        middle[i] = (left[i] + right[i]) / 2;
        side[i] = (left[i] - right[i]) / 2;
      }
      middles.tune(hz);
      middles.align(middle);
      sides.tune(hz);
      sides.keepHighs(side);
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        left[i] = middle[i] + side[i];
        right[i] = middle[i] - side[i];
      }
    },
  };
}

/**
 * Level, place and width of a signal as a whole. The pan keeps the power of what stands in the middle. It
 * mixes itself, since what is dry has to go through the phases of *mono below*, too.
 */
export const stereo: EffectModel<EffectOf<'stereo'>> = {
  standsApart: true,
  mixesItself: true,
  tailSeconds: (effect) => ringing(effect.monoBelowHz, CROSSOVER_Q) + (effect.removeDc ? DC_BLOCK_SECONDS : 0),
  create(sampleRateHz) {
    const monoBelow = createMonoBelow(sampleRateHz);
    const dcBlocks = [createDcBlock(sampleRateHz), createDcBlock(sampleRateHz)];
    const dryPhases = [createCrossover(sampleRateHz), createCrossover(sampleRateHz)];
    const dry = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
    const [gainL, gainR, width, mix] = Array.from({ length: 4 }, () => new Ramp());
    const ramps = [gainL, gainR, width, mix];

    /** Keeps a side of what is dry, in the phases of what is wet. */
    function keepDry(side: number, signal: Float64Array, monoBelowHz: number): void {
      dry[side].set(signal);
      if (monoBelowHz <= NO_MONO_HZ) return;
      dryPhases[side].tune(monoBelowHz);
      dryPhases[side].align(dry[side]);
    }

    return {
      latency: 0,
      clear() {
        for (const part of [monoBelow, ...dryPhases, ...ramps, ...dcBlocks]) part.clear();
      },
      run({ spec, slots, onlyAdded }, values, left, right) {
        keepDry(0, left, values[slots.monoBelowHz]);
        keepDry(1, right, values[slots.monoBelowHz]);
        mix.to(values[slots.mix] / 100, BLOCK_SAMPLES);
        const gain = gainFromDecibels(values[slots.gainDb]) * Math.SQRT2;
        const angle = (Math.PI / 4) * (1 + values[slots.pan] / 100);
        gainL.to(gain * Math.cos(angle) * (spec.turnLeft ? -1 : 1), BLOCK_SAMPLES);
        gainR.to(gain * Math.sin(angle) * (spec.turnRight ? -1 : 1), BLOCK_SAMPLES);
        width.to(values[slots.width] / 100, BLOCK_SAMPLES);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const middle = (left[i] + right[i]) / 2;
          const side = ((left[i] - right[i]) / 2) * (width.value + (i + 1) * width.step);
          left[i] = middle + side;
          right[i] = middle - side;
        }
        monoBelow.run(values[slots.monoBelowHz], left, right);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          left[i] *= gainL.value + (i + 1) * gainL.step;
          right[i] *= gainR.value + (i + 1) * gainR.step;
        }
        if (spec.removeDc) {
          dcBlocks[0].run(left);
          dcBlocks[1].run(right);
        }
        const through = onlyAdded ? 0 : 1;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const wet = mix.value + (i + 1) * mix.step;
          left[i] = through * dry[0][i] + wet * (left[i] - dry[0][i]);
          right[i] = through * dry[1][i] + wet * (right[i] - dry[1][i]);
        }
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => 0,
    };
  },
};
