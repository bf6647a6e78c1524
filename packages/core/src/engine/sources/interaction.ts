import { hzFromMidi } from '../../dsp/pitch';
import { OVERSAMPLING } from '../../dsp/halfband';
import { BLOCK_SAMPLES, type SourceContext } from './source';

/** FM or ring modulation that arrives at a source. */
export type Incoming =
  | { kind: 'fm'; from: number; indexSlot: number; /** With all that routes may add. */ highestIndex: number }
  | { kind: 'ring'; from: number; depthSlot: number }
  | { kind: 'ringTone'; tuning: 'fixed' | 'ratio'; depthSlot: number; hzSlot: number; ratioSlot: number };

/** A source that others can hear: all its voices at level 1, at the fine rate, kept until the next block. */
export interface ModulatingState {
  output: Float64Array;
}

export const createModulatorOutput = () => new Float64Array(OVERSAMPLING * BLOCK_SAMPLES);

export interface InteractionState {
  /** Amount of each connection at the end of the last block. */
  amounts: Float64Array;
  tonePhases: Float64Array;
}

const MAX_INCOMING = 32;
const MAX_FM_SLOPE = 16;

export const createInteractionState = (): InteractionState => ({
  amounts: new Float64Array(MAX_INCOMING),
  tonePhases: new Float64Array(MAX_INCOMING),
});

export function startInteraction(
  incoming: readonly Incoming[],
  { amounts, tonePhases }: InteractionState,
  values: Float64Array,
): void {
  tonePhases.fill(0);
  for (let c = 0; c < incoming.length; c++) amounts[c] = amountOf(incoming[c], values);
}

/** Index in cycles of phase, or depth 0..1. */
const amountOf = (connection: Incoming, values: Float64Array) =>
  connection.kind === 'fm' ? values[connection.indexSlot] / (2 * Math.PI) : values[connection.depthSlot] / 100;

/** Frequency of the sine that a ring tone multiplies with. */
export const ringToneHz = (
  { tuning, hzSlot, ratioSlot }: Extract<Incoming, { kind: 'ringTone' }>,
  { values, midi }: SourceContext,
) => (tuning === 'fixed' ? values[hzSlot] : hzFromMidi(midi) * values[ratioSlot]);

/**
 * Phase modulation of the present block in cycles, and its ring factor. Voices take turns, so one of each is
 * enough.
 */
export const phaseModulation = createModulatorOutput();
export const ringFactor = createModulatorOutput();

/** Fills `phaseModulation` and `ringFactor` for one source over the block, at the fine rate. */
export function gatherModulation(
  incoming: readonly Incoming[],
  { amounts, tonePhases }: InteractionState,
  states: readonly ModulatingState[],
  context: SourceContext,
): void {
  const { values, sampleRateHz, rate } = context;
  const first = rate * context.from;
  const end = rate * context.to;
  const count = end - first;
  for (let i = first; i < end; i++) {
    phaseModulation[i] = 0;
    ringFactor[i] = 1;
  }
  for (let c = 0; c < incoming.length; c++) {
    const connection = incoming[c];
    const next = amountOf(connection, values);
    const amount = amounts[c];
    const step = (next - amount) / count;
    amounts[c] = next;
    if (connection.kind === 'fm') {
      addScaled(phaseModulation, states[connection.from].output, first, end, amount, step);
    } else if (connection.kind === 'ring') {
      multiplyRing(states[connection.from].output, first, end, amount, step);
    } else {
      const increment = Math.min(0.49, ringToneHz(connection, context) / sampleRateHz / rate);
      const phase = tonePhases[c];
      multiplyRingTone(phase, increment, first, end, amount, step);
      const after = phase + count * increment;
      tonePhases[c] = after - Math.floor(after);
    }
  }
}

// Each loop has a function of its own: small ones are compiled to the fastest code.

function addScaled(
  sum: Float64Array,
  signal: Float64Array,
  first: number,
  end: number,
  start: number,
  step: number,
): void {
  for (let i = first, amount = start; i < end; i++, amount += step) sum[i] += amount * signal[i];
}

function multiplyRing(signal: Float64Array, first: number, end: number, start: number, step: number): void {
  for (let i = first, amount = start; i < end; i++, amount += step) ringFactor[i] *= 1 - amount + amount * signal[i];
}

function multiplyRingTone(
  startPhase: number,
  increment: number,
  first: number,
  end: number,
  start: number,
  step: number,
): void {
  for (let i = first, amount = start, phase = startPhase; i < end; i++, amount += step, phase += increment) {
    ringFactor[i] *= 1 - amount + amount * Math.sin(2 * Math.PI * phase);
  }
}

/**
 * How much faster than its own pitch FM carries a source's phase at most in the present block, as a multiple
 * of the pitch.
 *
 * @param increment of the source, in cycles per sample of the rate at which this runs
 */
export function modulationSlope(increment: number, first: number, end: number): number {
  let fastest = 0;
  for (let i = first + 1; i < end; i++) {
    fastest = Math.max(fastest, Math.abs(phaseModulation[i] - phaseModulation[i - 1]));
  }
  return Math.min(MAX_FM_SLOPE, fastest / Math.max(1e-7, increment));
}

/**
 * Multiplies a block at the plain rate by the ring factor of a source that has no fine rate, such as noise.
 */
export function applyRing(
  incoming: readonly Incoming[],
  state: InteractionState,
  states: readonly ModulatingState[],
  context: SourceContext,
): void {
  const { left, right, from, to, rate } = context;
  gatherModulation(incoming, state, states, context);
  for (let i = from; i < to; i++) {
    const factor = ringFactor[rate * i];
    left[i] *= factor;
    if (left !== right) right[i] *= factor;
  }
}

/**
 * Spreads a block of the plain rate over the fine one, in straight lines, for a source that others listen to.
 */
export function spreadOutput(output: Float64Array, signal: Float64Array, { from, to, rate }: SourceContext): void {
  let before = output[rate * (from > 0 ? from : BLOCK_SAMPLES) - 1];
  for (let i = from; i < to; i++) {
    for (let n = 0; n < rate; n++) output[rate * i + n] = before + ((n + 1) / rate) * (signal[i] - before);
    before = signal[i];
  }
}
