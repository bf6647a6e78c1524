import type { TableLevel } from './bandlimitedTable';

/** The unison voices of a source within one block: where each is in its period, and how fast it goes at both ends. */
export interface OscillatorBank {
  count: number;
  /** Cycles 0..1 at the start of the block. */
  phases: Float64Array;
  /** Cycles per sample at the start and at the end of the block. */
  increments: Float64Array;
  nextIncrements: Float64Array;
}

const SIXTH = 1 / 6;

/**
 * Adds one frame of a table, read by every voice of a bank, to `output[from..to)`. Four-point Lagrange interpolation in
 * Everett's form (Abramowitz & Stegun 25.2, with second differences), which takes the fewest operations.
 *
 * @param pans factor of each voice
 * @param gain factor on all voices at the start of the block, going straight to `nextGain` at its end
 * @param shift added to all phases at the start of the block, in cycles, going straight to `nextShift`
 */
export function addTable(
  output: Float64Array,
  from: number,
  to: number,
  level: TableLevel,
  frame: number,
  bank: OscillatorBank,
  pans: Float64Array,
  gain: number,
  nextGain: number,
  shift = 0,
  nextShift = 0,
): void {
  const { samples, size } = level;
  const offset = frame * level.stride;
  const mask = size - 1;
  const count = to - from;
  for (let u = 0; u < bank.count; u++) {
    let x = (bank.phases[u] + shift) * size;
    let step = (bank.increments[u] + (nextShift - shift) / count) * size;
    const stepStep = ((bank.nextIncrements[u] - bank.increments[u]) / count) * size;
    let amplitude = gain * pans[u];
    const gainStep = ((nextGain - gain) * pans[u]) / count;
    if (gainStep === 0 && stepStep === 0) {
      // At rest, as most notes are most of the time, the loop has less to carry.
      for (let i = from; i < to; i++) {
        const whole = x | 0;
        output[i] += amplitude * readFourPoints(samples, offset + (whole & mask), x - whole);
        x += step;
      }
      continue;
    }
    for (let i = from; i < to; i++) {
      const whole = x | 0;
      output[i] += amplitude * readFourPoints(samples, offset + (whole & mask), x - whole);
      amplitude += gainStep;
      x += step;
      step += stepStep;
    }
  }
}

/** The cubic through four neighbours, `f` of the way from the second (at `k + 1`, the first being a guard) to the third. */
function readFourPoints(samples: Float64Array, k: number, f: number): number {
  const y1 = samples[k + 1];
  const y2 = samples[k + 2];
  const slope = y2 - y1;
  const bend1 = samples[k] - y1 + slope;
  const bend2 = samples[k + 3] - y2 - slope;
  const g = 1 - f;
  return y1 + f * (slope - SIXTH * g * ((1 + g) * bend1 + (1 + f) * bend2));
}

/** Moves a bank over `count` samples, to the start of the next block. */
export function advanceBank(
  { count: voices, phases, increments, nextIncrements }: OscillatorBank,
  count: number,
): void {
  for (let u = 0; u < voices; u++) {
    const step = (nextIncrements[u] - increments[u]) / count;
    const phase = phases[u] + increments[u] * count + (step * count * (count - 1)) / 2;
    phases[u] = phase - Math.floor(phase);
    increments[u] = nextIncrements[u];
  }
}
