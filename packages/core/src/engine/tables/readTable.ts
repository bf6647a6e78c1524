import type { TableLevel } from './bandlimitedTable';

/**
 * The unison voices of a source within one block: where each is in its period, and how fast it goes at both
 * ends.
 */
export interface OscillatorBank {
  count: number;
  /** Cycles 0..1 at the start of the block. */
  phases: Float64Array;
  /** Cycles per sample at the start and at the end of the block. */
  increments: Float64Array;
  nextIncrements: Float64Array;
}

/** Factors of the unison voices on one output, at the start and at the end of the block. */
export interface Factors {
  now: Float64Array;
  next: Float64Array;
}

/** How a frame is read within one block: an object, since numbers that pass between functions are boxed. */
export interface FrameReading {
  /** Factor on all voices at the start of the block, going straight to `nextGain` at its end. */
  gain: number;
  nextGain: number;
  /** Added to all phases at the start of the block, in cycles, going straight to `nextShift`. */
  shift: number;
  nextShift: number;
}

/**
 * Adds one frame of a table, read by every voice of a bank, to `left[from..to)` and, when it is another
 * array, to `right`.
 */
export function addTable(
  left: Float64Array,
  right: Float64Array,
  from: number,
  to: number,
  { cubics, size, stride }: TableLevel,
  frame: number,
  bank: OscillatorBank,
  factorsL: Factors,
  factorsR: Factors,
  { gain, nextGain, shift, nextShift }: FrameReading,
): void {
  const offset = frame * stride;
  const mask = size - 1;
  const count = to - from;
  for (let u = 0; u < bank.count; u++) {
    const x = (bank.phases[u] + shift) * size;
    const step = (bank.increments[u] + (nextShift - shift) / count) * size;
    const stepStep = ((bank.nextIncrements[u] - bank.increments[u]) / count) * size;
    const l = gain * factorsL.now[u];
    const lStep = (nextGain * factorsL.next[u] - l) / count;
    if (left !== right) {
      const r = gain * factorsR.now[u];
      const rStep = (nextGain * factorsR.next[u] - r) / count;
      addStereo(left, right, from, to, cubics, offset, mask, x, step, stepStep, l, lStep, r, rStep);
    } else if (lStep !== 0 || stepStep !== 0) {
      addMoving(left, from, to, cubics, offset, mask, x, step, stepStep, l, lStep);
    } else {
      // The next voice goes along where it rests, too.
      const v = u + 1;
      const m = v < bank.count ? gain * factorsL.now[v] : 0;
      if (v < bank.count && bank.nextIncrements[v] === bank.increments[v] && nextGain * factorsL.next[v] === m) {
        const y = (bank.phases[v] + shift) * size;
        const yStep = (bank.increments[v] + (nextShift - shift) / count) * size;
        addTwoAtRest(left, from, to, cubics, offset, mask, x, step, l, y, yStep, m);
        u++;
      } else addAtRest(left, from, to, cubics, offset, mask, x, step, l);
    }
  }
}

// Each loop has a function of its own: small ones are compiled to the fastest code.

/** At rest, as most notes are most of the time, the loop has the least to carry. */
function addAtRest(
  output: Float64Array,
  from: number,
  to: number,
  cubics: Float64Array,
  offset: number,
  mask: number,
  start: number,
  step: number,
  gain: number,
): void {
  for (let i = from, x = start; i < to; i++, x += step) {
    const whole = x | 0;
    output[i] += gain * readCubic(cubics, offset + 4 * (whole & mask), x - whole);
  }
}

/** Two voices in one pass over the output: a fifth less time. */
function addTwoAtRest(
  output: Float64Array,
  from: number,
  to: number,
  cubics: Float64Array,
  offset: number,
  mask: number,
  xStart: number,
  xStep: number,
  xGain: number,
  yStart: number,
  yStep: number,
  yGain: number,
): void {
  for (let i = from, x = xStart, y = yStart; i < to; i++, x += xStep, y += yStep) {
    const xWhole = x | 0;
    const yWhole = y | 0;
    output[i] +=
      xGain * readCubic(cubics, offset + 4 * (xWhole & mask), x - xWhole) +
      yGain * readCubic(cubics, offset + 4 * (yWhole & mask), y - yWhole);
  }
}

/** Pitch and gain each run in a straight line; `mask` is the table's size less one. */
export function addMoving(
  output: Float64Array,
  from: number,
  to: number,
  cubics: Float64Array,
  offset: number,
  mask: number,
  start: number,
  startStep: number,
  stepStep: number,
  startGain: number,
  gainStep: number,
): void {
  for (let i = from, x = start, step = startStep, gain = startGain; i < to; i++) {
    const whole = x | 0;
    output[i] += gain * readCubic(cubics, offset + 4 * (whole & mask), x - whole);
    gain += gainStep;
    x += step;
    step += stepStep;
  }
}

function addStereo(
  left: Float64Array,
  right: Float64Array,
  from: number,
  to: number,
  cubics: Float64Array,
  offset: number,
  mask: number,
  start: number,
  startStep: number,
  stepStep: number,
  startL: number,
  lStep: number,
  startR: number,
  rStep: number,
): void {
  for (let i = from, x = start, step = startStep, l = startL, r = startR; i < to; i++) {
    const whole = x | 0;
    const y = readCubic(cubics, offset + 4 * (whole & mask), x - whole);
    left[i] += l * y;
    right[i] += r * y;
    l += lStep;
    r += rStep;
    x += step;
    step += stepStep;
  }
}

/** The cubic at `k` of a table, `f` of the way to the next sample. */
export function readCubic(cubics: Float64Array, k: number, f: number): number {
  return cubics[k] + f * (cubics[k + 1] + f * (cubics[k + 2] + f * cubics[k + 3]));
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
