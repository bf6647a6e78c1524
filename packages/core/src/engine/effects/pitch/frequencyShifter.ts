import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { createHilbert } from './hilbert';
import { createLoopFilter } from './loopFilter';
import { rounds } from '../chain/ringing';

const SECTIONS = 12;
const TRANSITION = 0.0006;

/** Under this the branches are not apart, and what is fed back could grow. */
const LOOP_LOW_HZ = 60;

/**
 * Moves every partial by as many Hz (single-sideband modulation): harmonics become inharmonic, small shifts
 * beat; fed back, they climb.
 */
export const frequencyShifter: EffectModel<EffectOf<'frequencyShifter'>> = {
  leavesDc: () => true,
  standsApart: true,
  tailSeconds(effect) {
    // What comes near 0 is held there by the filters of the loop.
    return 0.1 + rounds(effect.feedback, 0.1);
  },
  create(sampleRateHz) {
    const hilberts = [createHilbert(SECTIONS, TRANSITION), createHilbert(SECTIONS, TRANSITION)];
    const [turn, feedback] = [new Ramp(), new Ramp()];
    const loops = [0, 1].map(() => createLoopFilter(sampleRateHz, LOOP_LOW_HZ));
    let cycles = 0;
    return {
      latency: 0,
      clear() {
        for (const part of [...hilberts, ...loops, turn, feedback]) part.clear();
        cycles = 0;
      },
      run({ spec, slots }, values, left, right) {
        turn.to(values[slots.shiftHz] / sampleRateHz, BLOCK_SAMPLES);
        feedback.to(values[slots.feedback] / 100, BLOCK_SAMPLES);
        const sign = spec.opposite ? -1 : 1;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          cycles += turn.value + (i + 1) * turn.step;
          cycles -= Math.floor(cycles);
          const cos = Math.cos(2 * Math.PI * cycles);
          const sin = Math.sin(2 * Math.PI * cycles);
          const back = feedback.value + (i + 1) * feedback.step;
          hilberts[0].run(left[i] + back * loops[0].y);
          hilberts[1].run(right[i] + back * loops[1].y);
          left[i] = hilberts[0].pair.re * cos - hilberts[0].pair.im * sin;
          right[i] = hilberts[1].pair.re * cos - sign * hilberts[1].pair.im * sin;
          loops[0].run(left[i]);
          loops[1].run(right[i]);
        }
        for (const hilbert of hilberts) hilbert.settle();
        turn.advance(BLOCK_SAMPLES);
        feedback.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => 2 * SECTIONS,
    };
  },
};
