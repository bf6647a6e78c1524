import { gainFromDecibels } from '../../dsp/decibels';
import { kernel, kernelNumbers } from '../../dsp/kernel/kernel';
import type { Shaper } from '../../patch/schema';
import { type CurveTable, curveTableOf, slotOf } from './shaperCurves';

/** Samples by which a shaper delays what goes through it. */
export const SHAPER_LATENCY = kernel.SHAPER_LATENCY.value;

export interface ShaperProgram {
  on: boolean;
  table: CurveTable;
  slots: Readonly<Record<string, number>>;
}

export const compileShaper = (shaper: Shaper, slots: ShaperProgram['slots']): ShaperProgram => ({
  on: shaper.on,
  table: curveTableOf(shaper.curve, shaper.drawnCurve),
  slots,
});

/**
 * One channel of a shaper: four times oversampled against aliasing, more where the curve folds; half a sample
 * at that rate later than its latency says.
 */
export interface ShaperChannel {
  clear(): void;
  /**
   * Shapes `signal[from..to)` in place, SHAPER_LATENCY samples later. The first call after `clear` starts at
   * the present values.
   */
  run(program: ShaperProgram, values: Float64Array, signal: Float64Array, from: number, to: number): void;
}

const plain = kernelNumbers('plain', kernel.MOST.value);
const state = kernelNumbers('state', kernel.SHAPER_STATE.value);
const PATH_STATE = kernel.SHAPER_PATH_STATE.value;

export function createShaperChannel(): ShaperChannel {
  const past = new Float64Array(state.length);
  /** Values at the end of the last call. */
  const last = { drive: 0, bias: 0, wet: 0, dry: 0 };
  let known: CurveTable | undefined;
  return {
    clear() {
      past.fill(0);
      known = undefined;
    },
    run({ table, slots }, values, signal, from, to) {
      const drive = gainFromDecibels(values[slots.driveDb]);
      const bias = values[slots.bias] / 100;
      const output = gainFromDecibels(values[slots.outputDb]);
      const wet = (output * values[slots.mix]) / 100;
      const dry = output - wet;
      const fresh = table !== known;
      if (!known) set(last, drive, bias, wet, dry);
      // Another rate goes another way, to which what the one before remembers means nothing.
      else if (table.doublings !== known.doublings) past.fill(0, past.length - PATH_STATE);
      known = table;
      const count = to - from;
      for (let i = 0; i < count; i++) plain[i] = signal[from + i];
      state.set(past);
      const { beyond, doublings } = table;
      const slot = slotOf(table);
      kernel.shape(
        count,
        slot,
        beyond,
        doublings,
        fresh,
        last.drive,
        drive,
        last.bias,
        bias,
        last.wet,
        wet,
        last.dry,
        dry,
      );
      past.set(state);
      for (let i = 0; i < count; i++) signal[from + i] = plain[i];
      set(last, drive, bias, wet, dry);
    },
  };
}

function set(
  last: Record<'drive' | 'bias' | 'wet' | 'dry', number>,
  drive: number,
  bias: number,
  wet: number,
  dry: number,
) {
  last.drive = drive;
  last.bias = bias;
  last.wet = wet;
  last.dry = dry;
}
