import { filterSchema } from '../../../patch/schemas/shapingSchema';
import { type FilterProgram, MAX_COEFFICIENTS } from '../../filters/filter';
import { formant } from '../../filters/formant';
import { BLOCK_SAMPLES } from '../../sources/source';
import type { EffectModel, EffectOf } from '../chain/effect';
import { MovingCoefficients } from './movingCoefficients';
import { ringing } from '../chain/ringing';

/**
 * The vowel of a layer's filter, for the sum of its voices: formants that a route can lead from one vowel to
 * the next.
 */
/** The first formant of i. */
const LOWEST_FORMANT_HZ = 270;

export const vowelFilter: EffectModel<EffectOf<'vowelFilter'>> = {
  tailSeconds: (effect) =>
    ringing(LOWEST_FORMANT_HZ * 2 ** (effect.shiftSemitones / 12), Math.SQRT1_2 * 10 ** (effect.resonanceDb / 20)),
  create(sampleRateHz) {
    const channels = [formant.createChannel(sampleRateHz), formant.createChannel(sampleRateHz)];
    const coefficients = new MovingCoefficients(MAX_COEFFICIENTS);
    const pitch = { cutoffHz: 0, sampleRateHz };
    const program: FilterProgram = { spec: filterSchema.parse({ kind: 'formant', id: 'vowel' }), slots: {} };
    return {
      latency: 0,
      clear() {
        for (const channel of channels) channel.clear();
        coefficients.clear();
      },
      run({ slots }, values, left, right) {
        program.slots = slots;
        formant.tune(program, values, pitch, coefficients.next);
        coefficients.setOut();
        const { now, step, moving } = coefficients;
        channels[0].run(program, left, 0, BLOCK_SAMPLES, now, step, moving);
        channels[1].run(program, right, 0, BLOCK_SAMPLES, now, step, moving);
        coefficients.arrive();
      },
      hiddenSamples: () => 0,
    };
  },
};
