import { type TableLevel, levelFor } from '../tables/bandlimitedTable';
import { canJump, phaseShapeCode, shapedPhase, steepestSlope, syncWindow } from '../shaping/phaseShapes';
import { addMoving, readCubic } from '../tables/readTable';
import { type ModulatingState, gatherModulation, modulationSlope, phaseModulation, ringFactor } from './interaction';
import type { SourceContext } from './source';
import { type TonalProgram, type TonalState, aim, arrive, isAtRest, noteRest, tune } from './tonal';

/** So close to a jump its two sides are looked at, in cycles. */
const BESIDE = 1e-9;
/** Added to phases so that they are never negative; more cycles than any modulation moves them. */
const AHEAD_CYCLES = 256;

/** One unison voice within a block: its factors on the outputs, and their steps. */
const lane = { unit: 0, left: 0, leftStep: 0, right: 0, rightStep: 0, stereo: false, heard: false };

/**
 * Adds a block of a source whose phase is shaped or modulated, or that modulates others, at the fine rate;
 * `left` and `right` of the context are then buffers of that rate. FM is phase modulation, sin(ωt + I·m(t)),
 * which for a sine is Chowning's (1973) linear FM of index I, through zero.
 */
export function renderFine(
  program: TonalProgram,
  state: TonalState,
  states: readonly ModulatingState[],
  context: SourceContext,
): void {
  const { values, left, right, rate } = context;
  const { table, phaseShape, drawnPhase, incoming, feedbackSlot } = program;
  const { bank, unison, output } = state;
  const resting = isAtRest(program, state, context);
  if (!resting) tune(program, state, context);
  const first = rate * context.from;
  const end = rate * context.to;
  const count = end - first;
  const modulated = incoming.length > 0;
  if (modulated) gatherModulation(incoming, state.interaction, states, context);
  // A sine has no partials that could be carried too high.
  const slopeFm = modulated && !program.pureSine ? 1 + modulationSlope(bank.increments[0] / rate, first, end) : 1;
  aim(program, state, values);
  const { now, next } = state;
  const slope = Math.max(
    steepestSlope(phaseShape, now.phaseAmount, now.extra, drawnPhase),
    steepestSlope(phaseShape, next.phaseAmount, next.extra, drawnPhase),
  );
  const highest = (bank.nextIncrements[0] / unison.ratios[0]) * unison.highestRatio;
  const level = table.levels[levelFor(table, (highest * slope * slopeFm) / rate)];
  const plain =
    phaseShape === phaseShapeCode.none &&
    feedbackSlot === undefined &&
    now.second === 0 &&
    next.second === 0 &&
    now.position === next.position &&
    Number.isInteger(next.position);

  if (program.modulates) for (let i = first; i < end; i++) output[i] = 0;
  lane.unit = 1 / Math.sqrt(bank.count);
  lane.stereo = left !== right;
  lane.heard = now.gain > 0 || next.gain > 0;
  for (let u = 0; u < bank.count; u++) {
    lane.left = now.gain * unison.left.now[u];
    lane.leftStep = (next.gain * unison.left.next[u] - lane.left) / count;
    lane.right = now.gain * unison.right.now[u];
    lane.rightStep = (next.gain * unison.right.next[u] - lane.right) / count;
    if (plain) addModulated(level, next.position, state, u, context, first, end, modulated, program.modulates);
    else addShaped(level, program, state, u, context, first, end, modulated);
  }
  noteRest(program, state, context);
  arrive(state);
}

/** A voice that reads one frame at its own phase and that of its modulators: what most FM is. */
function addModulated(
  { cubics, size, stride }: TableLevel,
  frame: number,
  { bank, output }: TonalState,
  u: number,
  { left, right, rate }: SourceContext,
  first: number,
  end: number,
  modulated: boolean,
  listenedTo: boolean,
): void {
  const count = end - first;
  const offset = frame * stride;
  const mask = size - 1;
  const x = (bank.phases[u] + AHEAD_CYCLES) * size;
  const step = (bank.increments[u] / rate) * size;
  const stepStep = ((bank.nextIncrements[u] - bank.increments[u]) / rate / count) * size;
  const add = modulated ? addPhaseModulated : addMoving;
  if (listenedTo) add(output, first, end, cubics, offset, mask, x, step, stepStep, lane.unit, 0);
  if (lane.heard) {
    add(left, first, end, cubics, offset, mask, x, step, stepStep, lane.left, lane.leftStep);
    if (lane.stereo) add(right, first, end, cubics, offset, mask, x, step, stepStep, lane.right, lane.rightStep);
  }
  const phase =
    bank.phases[u] +
    (bank.increments[u] + ((bank.nextIncrements[u] - bank.increments[u]) * (count - 1)) / count / 2) * (count / rate);
  bank.phases[u] = phase - Math.floor(phase);
  bank.increments[u] = bank.nextIncrements[u];
}

/** Like addMoving, with the phase and ring modulation of the block. */
function addPhaseModulated(
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
  const size = mask + 1;
  for (let i = from, x = start, step = startStep, gain = startGain; i < to; i++) {
    const at = x + size * phaseModulation[i];
    const whole = at | 0;
    output[i] += gain * ringFactor[i] * readCubic(cubics, offset + 4 * (whole & mask), at - whole);
    gain += gainStep;
    x += step;
    step += stepStep;
  }
}

/**
 * A voice with everything: shaped phase, feedback, moving frames, modulators. Where the shaped phase jumps,
 * two-sample polynomials take the place of the jump (Välimäki & Huovilainen 2007) and of its kink (Esqueda et
 * al. 2016).
 */
function addShaped(
  level: TableLevel,
  program: TonalProgram,
  state: TonalState,
  u: number,
  { values, left, right, rate }: SourceContext,
  first: number,
  end: number,
  modulated: boolean,
): void {
  const { table, phaseShape, drawnPhase, feedbackSlot } = program;
  const { bank, beforeThat, phaseBefore, waiting, output, now, next } = state;
  const count = end - first;
  const lastFrame = table.frameCount - 1;
  const jumps = canJump(phaseShape);
  const faded = phaseShape === phaseShapeCode.hardSyncFaded;
  const stepped = phaseShape === phaseShapeCode.stairs;
  // Half of it goes to each of the last two outputs, whose mean is fed back, against hunting at the Nyquist
  // frequency.
  const feedback = feedbackSlot === undefined ? 0 : values[feedbackSlot] / (4 * Math.PI);
  const { unit, leftStep, rightStep, stereo } = lane;
  let { left: l, right: r } = lane;
  let phase = bank.phases[u];
  let step = bank.increments[u] / rate;
  const stepStep = (bank.nextIncrements[u] - bank.increments[u]) / rate / count;
  let y1 = state.before[u];
  let y2 = beforeThat[u];
  let held = waiting[u];
  let thetaBefore = phaseBefore[u];
  for (let i = first, n = 0; i < end; i++, n++) {
    const along = n / count;
    const amount = now.phaseAmount + along * (next.phaseAmount - now.phaseAmount);
    const extra = now.extra + along * (next.extra - now.extra);
    const position = now.position + along * (next.position - now.position);
    const second = now.second + along * (next.second - now.second);
    const width = now.pulseWidth + along * (next.pulseWidth - now.pulseWidth);
    let theta = phase + feedback * (y1 + y2);
    if (modulated) theta += phaseModulation[i];
    theta -= Math.floor(theta);
    const read = shapedPhase(phaseShape, theta, amount, extra, drawnPhase);
    let y = readFrames(level, lastFrame, read, position, second, width);
    if (faded) y *= syncWindow(theta);
    y2 = y1;
    y1 = y;
    if (jumps) {
      // The sample before is held back by one, so that both sides of a jump can be corrected.
      let emitted = held;
      held = y;
      const moved = theta - thetaBefore;
      const wrapped = moved < -0.5;
      const forward = wrapped ? moved + 1 : moved;
      const cell = stepped ? Math.floor(theta * extra) : 0;
      const crossed = wrapped || (stepped && cell !== Math.floor(thetaBefore * extra));
      if (crossed && thetaBefore >= 0 && forward > 0 && forward < 0.5) {
        const at = wrapped && cell === 0 ? 0 : cell / extra;
        const since = Math.min(1, Math.max(0, (theta - at) / forward));
        edge.at = at;
        edge.forward = forward;
        edge.amount = amount;
        edge.extra = extra;
        edge.position = position;
        edge.second = second;
        edge.width = width;
        lookAtEdge(level, program);
        const until = 1 - since;
        emitted += since * since * (0.5 * edge.jump + (edge.kink * since) / 6);
        held -= until * until * (0.5 * edge.jump - (edge.kink * until) / 6);
      }
      y = emitted;
      thetaBefore = theta;
    }
    if (modulated) y *= ringFactor[i];
    output[i] += unit * y;
    left[i] += l * y;
    if (stereo) right[i] += r * y;
    l += leftStep;
    r += rightStep;
    phase += step;
    step += stepStep;
  }
  state.before[u] = y1;
  beforeThat[u] = y2;
  waiting[u] = held;
  phaseBefore[u] = thetaBefore;
  bank.phases[u] = phase - Math.floor(phase);
  bank.increments[u] = bank.nextIncrements[u];
}

/**
 * A jump of a shaped phase: where in the period it is and how far a sample goes there, what shapes the source
 * at that moment, and what is found: the jump of its output and the change of slope, per sample.
 */
const edge = { at: 0, forward: 0, amount: 0, extra: 0, position: 0, second: 0, width: 0, jump: 0, kink: 0 };
/** What a source puts out at a phase of the note: of the edge that is looked at. */
const seen = { phase: 0, value: 0 };
/** The slope is taken over this share of a sample. */
const NEAR = 0.05;

/** Looks at both sides of the edge. */
function lookAtEdge(level: TableLevel, program: TonalProgram): void {
  const before = edge.at === 0 ? 1 : edge.at;
  const near = NEAR * edge.forward;
  seen.phase = edge.at + BESIDE;
  look(level, program);
  const after = seen.value;
  seen.phase = edge.at + near;
  look(level, program);
  const slopeAfter = seen.value - after;
  seen.phase = before - BESIDE;
  look(level, program);
  const ahead = seen.value;
  seen.phase = before - near;
  look(level, program);
  edge.jump = after - ahead;
  edge.kink = (slopeAfter - (ahead - seen.value)) / NEAR;
}

function look(level: TableLevel, { table, phaseShape, drawnPhase }: TonalProgram): void {
  const { amount, extra, position, second, width } = edge;
  const read = shapedPhase(phaseShape, seen.phase, amount, extra, drawnPhase);
  seen.value = readFrames(level, table.frameCount - 1, read, position, second, width);
}

/** Value of a table at a phase: two neighbouring frames at their shares, less the second saw of a pulse. */
function readFrames(
  { cubics, size, stride }: TableLevel,
  lastFrame: number,
  phase: number,
  position: number,
  second: number,
  width: number,
): number {
  const x = phase * size;
  const whole = x | 0;
  const frame = Math.min(lastFrame, position | 0);
  const share = position - frame;
  const k = 4 * (whole & (size - 1));
  let y = readCubic(cubics, frame * stride + k, x - whole);
  if (share > 0 && frame < lastFrame) y += share * (readCubic(cubics, (frame + 1) * stride + k, x - whole) - y);
  if (second > 0) {
    const x2 = (phase + width) * size;
    const whole2 = x2 | 0;
    y -= second * readCubic(cubics, lastFrame * stride + 4 * (whole2 & (size - 1)), x2 - whole2);
  }
  return y;
}
