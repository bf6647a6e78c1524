import { ratioFromSemitones } from '../../../dsp/pitch';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine } from '../chain/delayLine';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { PitchReader } from '../pitch/pitchReader';
import { createMonoBelow } from '../levels/stereo';
import { CROSSOVER_Q, ringing } from '../chain/ringing';

const WINDOW_SECONDS = 0.04;
const MOST_CROSS_SECONDS = 0.04;

/**
 * To each side a copy of the other one is added, a little later and some cents off, up on the left and down
 * on the right. It is as loud as before, and what lies low is put back into the middle.
 */
export const widener: EffectModel<EffectOf<'widener'>> = {
  mixesItself: true,
  tailSeconds: (effect) => ringing(effect.monoBelowHz, CROSSOVER_Q),
  create(sampleRateHz) {
    const window = WINDOW_SECONDS * sampleRateHz;
    const most = Math.ceil((WINDOW_SECONDS + MOST_CROSS_SECONDS) * sampleRateHz) + 8;
    const lines = [new DelayLine(most), new DelayLine(most)];
    const readers = [new PitchReader(), new PitchReader()];
    const [delay, amount] = [new Ramp(), new Ramp()];
    const monoBelow = createMonoBelow(sampleRateHz);
    return {
      latency: 0,
      clear() {
        for (const part of [...lines, ...readers, delay, amount, monoBelow]) part.clear();
      },
      run({ slots }, values, left, right) {
        const ratio = ratioFromSemitones(values[slots.detuneCents] / 200);
        // Half the window is what a reader is late by in the mean: short delays are made of it.
        delay.to(Math.max(0, values[slots.crossSeconds] * sampleRateHz - window / 2), BLOCK_SAMPLES);
        amount.to(values[slots.mix] / 100, BLOCK_SAMPLES);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          lines[0].write(left[i]);
          lines[1].write(right[i]);
          const extra = delay.value + (i + 1) * delay.step;
          const share = amount.value + (i + 1) * amount.step;
          const fromRight = readers[0].read(lines[1], ratio, window, extra);
          const fromLeft = readers[1].read(lines[0], 1 / ratio, window, extra);
          // What is added has little in common with what was there: their powers add up.
          const gain = 1 / Math.sqrt(1 + share * share);
          left[i] = gain * (left[i] + share * fromRight);
          right[i] = gain * (right[i] + share * fromLeft);
        }
        delay.advance(BLOCK_SAMPLES);
        amount.advance(BLOCK_SAMPLES);
        monoBelow.run(values[slots.monoBelowHz], left, right);
      },
      hiddenSamples: () => most,
    };
  },
};
