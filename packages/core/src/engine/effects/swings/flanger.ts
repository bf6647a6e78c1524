import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine } from '../chain/delayLine';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { swingsToDc } from './swingsToDc';
import { rounds } from '../chain/ringing';

const MOST_SECONDS = 0.021;

/** One short delay whose time swings, fed back into itself: with the dry signal a comb that moves. */
export const flanger: EffectModel<EffectOf<'flanger'>> = {
  leavesDc: swingsToDc,
  standsApart: true,
  tailSeconds(effect) {
    const round = effect.delaySeconds + effect.depthSeconds;
    return round + rounds(effect.feedback, round);
  },
  create(sampleRateHz) {
    const most = Math.ceil(MOST_SECONDS * sampleRateHz);
    const lines = [new DelayLine(most), new DelayLine(most)];
    const distances = [new Ramp(), new Ramp()];
    const feedback = new Ramp();
    const ramps = [...distances, feedback];
    const state = { cycles: 0, left: 0, right: 0 };
    return {
      latency: 0,
      clear() {
        for (const part of [...lines, ...ramps]) part.clear();
        Object.assign(state, { cycles: 0, left: 0, right: 0 });
      },
      run({ slots }, values, left, right) {
        state.cycles = (state.cycles + (BLOCK_SAMPLES * values[slots.rateHz]) / sampleRateHz) % 1;
        for (let side = 0; side < 2; side++) {
          const swing = 0.5 - 0.5 * Math.cos(2 * Math.PI * (state.cycles + side * values[slots.apartCycles]));
          const seconds = values[slots.delaySeconds] + values[slots.depthSeconds] * swing;
          distances[side].to(Math.max(2, seconds * sampleRateHz), BLOCK_SAMPLES);
        }
        feedback.to(values[slots.feedback] / 100, BLOCK_SAMPLES);
        const [distanceL, distanceR] = distances;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const back = feedback.value + (i + 1) * feedback.step;
          // Reads before the present sample is written, from which the distance counts.
          const outL = lines[0].read(distanceL.value + (i + 1) * distanceL.step - 1);
          const outR = lines[1].read(distanceR.value + (i + 1) * distanceR.step - 1);
          lines[0].write(left[i] + back * outL);
          lines[1].write(right[i] + back * outR);
          left[i] = outL;
          right[i] = outR;
        }
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => most,
    };
  },
};
