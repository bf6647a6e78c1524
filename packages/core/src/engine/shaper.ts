import { gainFromDecibels } from '../dsp/decibels';
import {
  DECIMATOR_LATENCY,
  INTERPOLATOR_LATENCY,
  OVERSAMPLING,
  createDecimator,
  createDelay,
  createInterpolator,
} from '../dsp/halfband';
import type { Shaper } from '../patch/schema';
import { type CurveState, type CurveTable, curveTableOf, runCurve } from './shaperCurves';

/** Samples by which a shaper delays what goes through it. */
export const SHAPER_LATENCY = INTERPOLATOR_LATENCY + DECIMATOR_LATENCY;

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

/** One channel of a shaper: four times oversampled against aliasing, half a sample at that rate later than its latency says. */
export interface ShaperChannel {
  clear(): void;
  /** Shapes `signal[from..to)` in place, SHAPER_LATENCY samples later. The first call after `clear` starts at the present values. */
  run(program: ShaperProgram, values: Float64Array, signal: Float64Array, from: number, to: number): void;
}

export function createShaperChannel(maxCount: number): ShaperChannel {
  const interpolator = createInterpolator(maxCount);
  const decimator = createDecimator(maxCount);
  const dryDelay = createDelay(SHAPER_LATENCY, maxCount);
  const fine = new Float64Array(OVERSAMPLING * maxCount);
  const dry = new Float64Array(maxCount);
  const shape: CurveState = { input: 0, integral: 0, table: undefined };
  const last = { drive: 0, bias: 0, wet: 0, dry: 0, fresh: true };
  return {
    clear() {
      interpolator.clear();
      decimator.clear();
      dryDelay.clear();
      shape.table = undefined;
      last.fresh = true;
    },
    run({ table, slots }, values, signal, from, to) {
      const drive = gainFromDecibels(values[slots.driveDb]);
      const bias = values[slots.bias] / 100;
      const mix = values[slots.mix] / 100;
      const output = gainFromDecibels(values[slots.outputDb]);
      if (last.fresh) {
        last.drive = drive;
        last.bias = bias;
        last.wet = output * mix;
        last.dry = output * (1 - mix);
        last.fresh = false;
      }
      const count = to - from;
      for (let i = from; i < to; i++) dry[i] = signal[i];
      dryDelay.run(dry, from, to);
      interpolator.run(signal, fine, from, to);
      const steps = OVERSAMPLING * count;
      const driveStep = (drive - last.drive) / steps;
      const biasStep = (bias - last.bias) / steps;
      // What the lean puts out by itself is taken off, so that silence stays silent.
      const rest = table.curve(last.bias);
      const restStep = (table.curve(bias) - rest) / steps;
      for (let i = OVERSAMPLING * from, d = last.drive, b = last.bias; i < OVERSAMPLING * to; i++) {
        fine[i] = d * fine[i] + b;
        d += driveStep;
        b += biasStep;
      }
      runCurve(table, shape, fine, OVERSAMPLING * from, OVERSAMPLING * to);
      for (let i = OVERSAMPLING * from, r = rest; i < OVERSAMPLING * to; i++, r += restStep) fine[i] -= r;
      for (let i = from; i < to; i++) signal[i] = 0;
      decimator.add(fine, signal, from, to);
      const wetStep = (output * mix - last.wet) / count;
      const dryStep = (output * (1 - mix) - last.dry) / count;
      for (let i = from, w = last.wet, d = last.dry; i < to; i++) {
        w += wetStep;
        d += dryStep;
        signal[i] = w * signal[i] + d * dry[i];
      }
      last.drive = drive;
      last.bias = bias;
      last.wet = output * mix;
      last.dry = output * (1 - mix);
    },
  };
}
