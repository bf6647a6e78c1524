import { hzFromMidi, ratioFromSemitones } from '../../dsp/pitch';
import type { Source } from '../../patch/schema';
import type { SourceContext } from './source';

/** Slots of what tunes a pitched source. */
export interface TuningSlots {
  octaves: number;
  semitones: number;
  cents: number;
  ratio: number;
  fixedHz: number;
}

export type Tuning = Extract<Source, { kind: 'shape' }>['tuning'];

/** A frequency that was worked out before, and from what: powers of two at every block would add up. */
export interface TuningMemo {
  steps: number;
  factor: number;
  hz: number;
}

export const createTuningMemo = (): TuningMemo => ({ steps: NaN, factor: NaN, hz: 0 });

/**
 * Works out `memo.hz`, the frequency of the middle of a source: steps from the note, a ratio to it, or a
 * fixed one that no key moves.
 */
export function tuneMiddle(tuning: Tuning, slots: TuningSlots, context: SourceContext, memo: TuningMemo): void {
  const { values, midi } = context;
  const own = 12 * values[slots.octaves] + values[slots.semitones] + values[slots.cents] / 100;
  const steps = tuning === 'fixed' ? own : midi + own;
  const factor = tuning === 'fixed' ? values[slots.fixedHz] : tuning === 'ratio' ? values[slots.ratio] : 1;
  if (steps !== memo.steps || factor !== memo.factor) {
    memo.steps = steps;
    memo.factor = factor;
    memo.hz = factor * (tuning === 'fixed' ? ratioFromSemitones(steps) : hzFromMidi(steps));
  }
}
