import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';

const TURN = 2 * Math.PI;
/** Heard by an effect that follows the note before there is any. */
const NO_NOTE_HZ = 261.63;

/** Frequency that an effect is tuned to: what is set, or a ratio to the note that began last. */
export const tunedHz = (tuning: 'fixed' | 'note', hz: number, ratio: number, noteHz: number): number =>
  tuning === 'fixed' ? hz : ratio * (noteHz > 0 ? noteHz : NO_NOTE_HZ);

/** Everything times a sine: each partial becomes two, the sine's frequency above and below it. */
export const ringModulator: EffectModel<EffectOf<'ringModulator'>> = {
  leavesDc: () => true,
  standsApart: true,
  tailSeconds: () => 0,
  create(sampleRateHz) {
    const turn = new Ramp();
    let cycles = 0;
    return {
      latency: 0,
      clear() {
        turn.clear();
        cycles = 0;
      },
      run({ spec, slots }, values, left, right, { noteHz }) {
        const hz = tunedHz(spec.tuning, values[slots.toneHz], values[slots.ratio], noteHz);
        turn.to(Math.min(0.49, hz / sampleRateHz), BLOCK_SAMPLES);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          cycles += turn.value + (i + 1) * turn.step;
          cycles -= Math.floor(cycles);
          const sine = Math.sin(TURN * cycles);
          left[i] *= sine;
          right[i] *= sine;
        }
        turn.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => 0,
    };
  },
};
