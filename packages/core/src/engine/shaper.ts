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

/** Samples by which a shaper delays what goes through it. */
export const SHAPER_LATENCY = INTERPOLATOR_LATENCY + DECIMATOR_LATENCY;

export type ShaperCurve = Shaper['curve'];

export interface ShaperProgram {
  on: boolean;
  curve: ShaperCurve;
  drawn: { x: Float64Array; y: Float64Array };
  slots: Readonly<Record<string, number>>;
}

export function compileShaper(shaper: Shaper, slots: ShaperProgram['slots']): ShaperProgram {
  return {
    on: shaper.on,
    curve: shaper.curve,
    drawn: drawnLineOf(shaper.drawnCurve),
    slots,
  };
}

/** A drawn curve as it is read. */
export const drawnLineOf = (points: Shaper['drawnCurve']): ShaperProgram['drawn'] => ({
  x: Float64Array.from(points, ({ x }) => x),
  y: Float64Array.from(points, ({ y }) => y),
});

/** How far the negative half of a tube goes against the positive one. */
const TUBE_LEAN = 1.6;
const DIODE_KNEE = 4;

/**
 * Puts a signal of about ±1 through a shaper's curve, in place. Every curve but a drawn one has slope 1 at 0 (sine folding
 * π/2), so quiet sounds pass as they are. Soft: tanh. Tube: exponential knees of unequal height, hence even partials. Diode:
 * the negative half is held at a quarter. Folding turns back at ±1, as a sine or as straight lines.
 */
export function shapeSignal(
  curve: ShaperCurve,
  drawn: ShaperProgram['drawn'],
  signal: Float64Array,
  from: number,
  to: number,
): void {
  switch (curve) {
    case 'soft':
      for (let i = from; i < to; i++) signal[i] = Math.tanh(signal[i]);
      return;
    case 'hard':
      for (let i = from; i < to; i++) signal[i] = Math.max(-1, Math.min(1, signal[i]));
      return;
    case 'tube':
      for (let i = from; i < to; i++) {
        const x = signal[i];
        signal[i] = x >= 0 ? 1 - Math.exp(-x) : (Math.exp(TUBE_LEAN * x) - 1) / TUBE_LEAN;
      }
      return;
    case 'diode':
      for (let i = from; i < to; i++) {
        const x = signal[i];
        signal[i] = x >= 0 ? Math.tanh(x) : Math.tanh(DIODE_KNEE * x) / DIODE_KNEE;
      }
      return;
    case 'sineFold':
      for (let i = from; i < to; i++) signal[i] = Math.sin(0.5 * Math.PI * signal[i]);
      return;
    case 'fold':
      for (let i = from; i < to; i++) {
        const turn = 0.25 * (signal[i] + 1);
        signal[i] = 1 - 4 * Math.abs(turn - Math.floor(turn) - 0.5);
      }
      return;
    case 'drawn':
      for (let i = from; i < to; i++) signal[i] = drawnAt(drawn, signal[i]);
  }
}

const one = new Float64Array(1);

/** Output of a shaper for one input. */
export function shapeSample(curve: ShaperCurve, drawn: ShaperProgram['drawn'], x: number): number {
  one[0] = x;
  shapeSignal(curve, drawn, one, 0, 1);
  return one[0];
}

function drawnAt({ x: xs, y: ys }: ShaperProgram['drawn'], x: number): number {
  const last = xs.length - 1;
  if (x <= xs[0]) return ys[0];
  if (x >= xs[last]) return ys[last];
  let i = 1;
  while (xs[i] < x) i++;
  return ys[i - 1] + ((ys[i] - ys[i - 1]) * (x - xs[i - 1])) / (xs[i] - xs[i - 1]);
}

/** One channel of a shaper: four times oversampled against aliasing. */
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
  const last = { drive: 0, bias: 0, wet: 0, dry: 0, fresh: true };
  return {
    clear() {
      interpolator.clear();
      decimator.clear();
      dryDelay.clear();
      last.fresh = true;
    },
    run({ curve, drawn, slots }, values, signal, from, to) {
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
      const rest = shapeSample(curve, drawn, last.bias);
      const restStep = (shapeSample(curve, drawn, bias) - rest) / steps;
      for (let i = OVERSAMPLING * from, d = last.drive, b = last.bias; i < OVERSAMPLING * to; i++) {
        fine[i] = d * fine[i] + b;
        d += driveStep;
        b += biasStep;
      }
      shapeSignal(curve, drawn, fine, OVERSAMPLING * from, OVERSAMPLING * to);
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
