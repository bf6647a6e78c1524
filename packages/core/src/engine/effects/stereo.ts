import { gainFromDecibels } from '../../dsp/decibels';
import { createDcBlock } from '../dcBlock';
import { butterworthQs } from '../filters/butterworth';
import { integratorGain } from '../filters/filter';
import { SECTION, createSections, runSection, section } from '../filters/stateVariable';
import { BLOCK_SAMPLES } from '../sources/source';
import { type EffectModel, type EffectOf, Ramp } from './effect';

/** Corner under which nothing is made mono. */
const NO_MONO_HZ = 10;
const QS = butterworthQs(4);

/** Takes what lies under a frequency out of the side of a signal: 24 dB per octave. */
export function createMonoBelow(sampleRateHz: number) {
  const states = createSections(QS.length);
  const cut = new Float64Array(QS.length * SECTION);
  const still = new Float64Array(cut.length);
  const side = new Float64Array(BLOCK_SAMPLES);
  return {
    clear: () => void states.fill(0),
    run(hz: number, left: Float64Array, right: Float64Array): void {
      if (hz <= NO_MONO_HZ) return;
      const g = integratorGain(hz, sampleRateHz);
      for (let s = 0; s < QS.length; s++) section.highpass(cut, s, g, 1 / QS[s]);
      for (let i = 0; i < BLOCK_SAMPLES; i++) side[i] = (left[i] - right[i]) / 2;
      for (let s = 0; s < QS.length; s++) runSection(states, s, side, 0, BLOCK_SAMPLES, cut, still, false);
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        const middle = (left[i] + right[i]) / 2;
        left[i] = middle + side[i];
        right[i] = middle - side[i];
      }
    },
  };
}

/** Level, place and width of a signal as a whole. The pan keeps the power of what stands in the middle. */
export const stereo: EffectModel<EffectOf<'stereo'>> = {
  create(sampleRateHz) {
    const monoBelow = createMonoBelow(sampleRateHz);
    const dcBlocks = [createDcBlock(sampleRateHz), createDcBlock(sampleRateHz)];
    const [gainL, gainR, width] = [new Ramp(), new Ramp(), new Ramp()];
    const ramps = [gainL, gainR, width];
    return {
      latency: 0,
      clear() {
        monoBelow.clear();
        for (const part of [...ramps, ...dcBlocks]) part.clear();
      },
      run({ spec, slots }, values, left, right) {
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
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => 0,
    };
  },
};
