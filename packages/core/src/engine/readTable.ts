import type { TableLevel } from './bandlimitedTable';

const THIRD = 1 / 3;
const SIXTH = 1 / 6;

/**
 * Adds one frame of a table, read at a moving phase, to `output[from..to)`. Four-point Lagrange interpolation.
 *
 * @param phase where to start, in cycles 0..1
 * @param increment cycles per sample, growing by `incrementStep` each sample
 * @param gain factor at the first sample, growing by `gainStep` each sample
 */
export function addTable(
  output: Float64Array,
  from: number,
  to: number,
  level: TableLevel,
  frame: number,
  phase: number,
  increment: number,
  incrementStep: number,
  gain: number,
  gainStep: number,
): void {
  const { samples, size } = level;
  const offset = frame * level.stride;
  let x = phase * size;
  let step = increment * size;
  const stepStep = incrementStep * size;
  for (let i = from; i < to; i++) {
    const whole = x | 0;
    const f = x - whole;
    const k = offset + whole;
    const y0 = samples[k];
    const y1 = samples[k + 1];
    const y2 = samples[k + 2];
    const y3 = samples[k + 3];
    const c3 = (y3 - y0) * SIXTH + (y1 - y2) * 0.5;
    const c2 = (y0 + y2) * 0.5 - y1;
    const c1 = y2 - y0 * THIRD - y1 * 0.5 - y3 * SIXTH;
    output[i] += gain * (((c3 * f + c2) * f + c1) * f + y1);
    gain += gainStep;
    x += step;
    step += stepStep;
    if (x >= size) x -= size;
  }
}
