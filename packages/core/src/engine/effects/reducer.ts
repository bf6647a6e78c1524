import { integratorGain } from '../filters/filter';
import { SECTION, createSections, runSection, section } from '../filters/stateVariable';
import { writeRandom } from '../random';
import { BLOCK_SAMPLES } from '../sources/source';
import type { EffectModel, EffectOf } from './effect';

/** A filter that is as open as this is none. */
const OPEN_HZ = 20000;

/**
 * Fewer bits and a lower rate: values are rounded to steps of 2^(1 − bits), fractions of a bit allowed, with zero among them, and each is held
 * until the next is taken, at even or (with jitter) uneven times. Nothing is filtered before: what folds back belongs to it.
 */
export const reducer: EffectModel<EffectOf<'reducer'>> = {
  create(sampleRateHz) {
    const tones = [createSections(1), createSections(1)];
    const cut = new Float64Array(SECTION);
    const still = new Float64Array(SECTION);
    const random = new Float64Array(1);
    const state = { phase: 1, next: 1, heldL: 0, heldR: 0, taken: 0 };
    return {
      latency: 0,
      clear() {
        for (const tone of tones) tone.fill(0);
        Object.assign(state, { phase: 1, next: 1, heldL: 0, heldR: 0, taken: 0 });
      },
      run({ slots }, values, left, right) {
        const step = 2 ** (1 - values[slots.bits]);
        const rate = Math.min(1, values[slots.rateHz] / sampleRateHz);
        const jitter = values[slots.jitter] / 100;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          state.phase += rate;
          if (state.phase >= state.next) {
            state.phase -= state.next;
            state.heldL = step * Math.round(left[i] / step);
            state.heldR = step * Math.round(right[i] / step);
            if (jitter > 0) {
              writeRandom(random, 0, 11, state.taken++, 0);
              state.next = 1 + jitter * (random[0] - 0.5);
            } else state.next = 1;
          }
          left[i] = state.heldL;
          right[i] = state.heldR;
        }
        if (values[slots.toneHz] >= OPEN_HZ) return;
        section.lowpass(cut, 0, integratorGain(values[slots.toneHz], sampleRateHz), Math.SQRT2);
        runSection(tones[0], 0, left, 0, BLOCK_SAMPLES, cut, still, false);
        runSection(tones[1], 0, right, 0, BLOCK_SAMPLES, cut, still, false);
      },
      hiddenSamples: ({ slots }, values) => Math.ceil((2 * sampleRateHz) / values[slots.rateHz]),
    };
  },
};
