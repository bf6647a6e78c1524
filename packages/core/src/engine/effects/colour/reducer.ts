import { createDcBlock } from '../../output/dcBlock';
import { integratorGain } from '../../filters/filter';
import { SECTION, createSections, runSection, section } from '../../filters/stateVariable';
import { writeRandom } from '../../random';
import { BLOCK_SAMPLES } from '../../sources/source';
import type { EffectModel, EffectOf } from '../chain/effect';
import { ringing } from '../chain/ringing';

/** A filter that is as open as this is none. */
const OPEN_HZ = 20000;
/** Over this rate no constant comes about that would be worth a high-pass. */
const LOCKING_HZ = 20000;
/** Nor does one where the steps, as loud as they come out, are as small as those of this many bits. */
const FEW_BITS = 5;
const DB_PER_BIT = 6.02;
/** So slow that the steps stand level. */
const DC_HZ = 1;

/**
 * Fewer bits and a lower rate: values are rounded to steps of 2^(1 − bits), fractions of a bit allowed, with
 * zero among them, and each is held until the next is taken, at even or (with jitter) uneven times. Nothing
 * is filtered before: what folds back belongs to it.
 */
export const reducer: EffectModel<EffectOf<'reducer'>> = {
  tailSeconds: (effect) => ringing(effect.toneHz, 1) + ringing(DC_HZ, 1),
  create(sampleRateHz) {
    const tones = [createSections(1), createSections(1)];
    const cut = new Float64Array(SECTION);
    const still = new Float64Array(SECTION);
    const random = new Float64Array(1);
    // A tone that is taken always at the same places of its period leaves a constant, as a crooked one does
    // that is rounded.
    const dcBlocks = [0, 1].map(() => createDcBlock(sampleRateHz, DC_HZ));
    let blocking = false;
    const state = { phase: 1, next: 1, heldL: 0, heldR: 0, taken: 0 };
    return {
      latency: 0,
      clear() {
        for (const tone of tones) tone.fill(0);
        for (const block of dcBlocks) block.clear();
        blocking = false;
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
        // Once they run they go on: what they hold is not to be lost at once.
        blocking ||=
          values[slots.rateHz] < LOCKING_HZ ||
          values[slots.bits] - Math.max(0, values[slots.outputDb]) / DB_PER_BIT < FEW_BITS;
        if (blocking) {
          dcBlocks[0].run(left);
          dcBlocks[1].run(right);
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
