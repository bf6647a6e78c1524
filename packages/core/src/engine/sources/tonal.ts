import { gainFromDecibels } from '../../dsp/decibels';
import { ratioFromSemitones } from '../../dsp/pitch';
import { SILENT_DB } from '../../parameters/build';
import { type BandlimitedTable, levelFor } from '../bandlimitedTable';
import { type DrawnPhaseProgram, type PhaseShapeCode, phaseShapeCode } from '../phaseShapes';
import { hashedRandom } from '../random';
import { type OscillatorBank, addTable, advanceBank } from '../readTable';
import {
  type Incoming,
  type InteractionState,
  type ModulatingState,
  createInteractionState,
  createModulatorOutput,
  startInteraction,
} from './interaction';
import type { SourceContext, UnisonRoute } from './source';
import { type Tuning, type TuningMemo, type TuningSlots, createTuningMemo, tunedHz } from './tuning';
import { MAX_UNISON, type UnisonSlots, type UnisonState, createUnison, spreadUnison, startUnison } from './unison';

/** Slots of a source that repeats one period. */
export interface TonalSlots extends TuningSlots, UnisonSlots {
  levelDb: number;
  startPhaseCycles: number;
  startPhaseRandom: number;
  phaseAmount: number;
  syncSemitones: number;
  phaseSteps: number;
  /** Of a shape. */
  morph: number;
  pulseWidth: number;
  /** Of a wavetable. */
  position: number;
}

/** A shape, a wavetable or drawn partials as the voices read it. */
export interface TonalProgram {
  kind: 'tonal';
  on: boolean;
  into: number;
  slots: TonalSlots;
  tuning: Tuning;
  table: BandlimitedTable;
  /** Place of a plain shape among sine, triangle, saw and pulse; −1 for a table of frames. */
  shape: number;
  unisonVoices: number;
  unisonRoutes: readonly UnisonRoute[];
  phaseShape: PhaseShapeCode;
  drawnPhase: DrawnPhaseProgram;
  /** True when the source is part of what may have to run at four times the rate. */
  fine: boolean;
  incoming: readonly Incoming[];
  /** Whether other sources listen to it. */
  modulates: boolean;
  /** Whether anything but the note's pitch can move it. */
  moves: boolean;
  /** FM index into itself; undefined without feedback. */
  feedbackSlot: number | undefined;
  /** True for a sine that nothing makes into anything else, so that its bandwidth is known. */
  pureSine: boolean;
}

export interface TonalState extends ModulatingState {
  kind: 'tonal';
  bank: OscillatorBank;
  unison: UnisonState;
  tuning: TuningMemo;
  /** Copy of the table at the start and at the end of the block. */
  level: number;
  nextLevel: number;
  /** Cycles per sample of the highest voice, for which the copy was chosen. */
  highest: number;
  gain: number;
  levelMemo: { levelDb: number; gain: number };
  /** Frame position 0..frames−1, and the share of the second saw of a pulse. */
  position: number;
  second: number;
  pulseWidth: number;
  phaseAmount: number;
  extra: number;
  /** Of each unison voice: the last two outputs, the phase they were read at, and the output that waits for a correction. */
  before: Float64Array;
  beforeThat: Float64Array;
  phaseBefore: Float64Array;
  waiting: Float64Array;
  interaction: InteractionState;
  output: Float64Array;
  /** Program and pitch of the last block when nothing moved in it, so that the next one need not look. */
  restingAs: TonalProgram | undefined;
  restingMidi: number;
}

/** Pitches stop under the Nyquist frequency. */
const MAX_INCREMENT = 0.49;

const perVoice = () => new Float64Array(MAX_UNISON);

export function createTonalState(): TonalState {
  return {
    kind: 'tonal',
    bank: { count: 0, phases: perVoice(), increments: perVoice(), nextIncrements: perVoice() },
    unison: createUnison(),
    tuning: createTuningMemo(),
    level: 0,
    nextLevel: 0,
    highest: NaN,
    gain: 0,
    levelMemo: { levelDb: 0, gain: 1 },
    position: 0,
    second: 0,
    pulseWidth: 0,
    phaseAmount: 0,
    extra: 0,
    before: perVoice(),
    beforeThat: perVoice(),
    phaseBefore: perVoice(),
    waiting: perVoice(),
    interaction: createInteractionState(),
    output: createModulatorOutput(),
    restingAs: undefined,
    restingMidi: NaN,
  };
}

/** Level of a source as a factor; worked out anew only when it has changed. */
export function gainOf({ on, slots }: TonalProgram, { levelMemo }: TonalState, values: Float64Array): number {
  const levelDb = values[slots.levelDb];
  if (!on || levelDb <= SILENT_DB) return 0;
  if (levelMemo.levelDb !== levelDb) {
    levelMemo.levelDb = levelDb;
    levelMemo.gain = gainFromDecibels(levelDb);
  }
  return levelMemo.gain;
}

/** Works out where the pitches of a source arrive at the end of the block. */
export function tune(program: TonalProgram, state: TonalState, context: SourceContext): void {
  spreadUnison(state.unison, program.unisonVoices, program.slots, program.unisonRoutes, context);
  retune(program, state, context);
}

function retune(program: TonalProgram, state: TonalState, context: SourceContext): void {
  const { bank, unison } = state;
  const middle = tunedHz(program.tuning, program.slots, context, state.tuning) / context.sampleRateHz;
  bank.count = program.unisonVoices;
  for (let u = 0; u < bank.count; u++) bank.nextIncrements[u] = Math.min(MAX_INCREMENT, middle * unison.ratios[u]);
  const highest = middle * unison.highestRatio;
  if (highest !== state.highest) {
    state.highest = highest;
    state.nextLevel = levelFor(program.table, highest);
  }
}

/** Frame position of a source, and for shapes the share of the second saw. */
export function positionOf({ shape, slots, table }: TonalProgram, values: Float64Array): number {
  if (shape < 0) return table.frameCount > 1 ? (values[slots.position] / 100) * (table.frameCount - 1) : 0;
  return Math.min(2, shape + values[slots.morph] / 100);
}

export const secondOf = ({ shape, slots }: TonalProgram, values: Float64Array) =>
  shape < 0 ? 0 : Math.min(1, Math.max(0, shape - 2 + values[slots.morph] / 100));

/** Pulse width 0..1 of a shape. */
export const widthOf = ({ shape, slots }: TonalProgram, values: Float64Array) =>
  shape < 0 ? 0 : values[slots.pulseWidth] / 100;

/** Ratio of a synced oscillator to the note, or the number of steps of a period. */
export const extraOf = ({ phaseShape, slots }: TonalProgram, values: Float64Array) =>
  phaseShape === phaseShapeCode.step
    ? values[slots.phaseSteps]
    : phaseShape === phaseShapeCode.sync || phaseShape === phaseShapeCode.windowedSync
      ? ratioFromSemitones(values[slots.syncSemitones])
      : 1;

/** Sets what the first block of a note ramps from. */
export function startTonal(program: TonalProgram, state: TonalState, index: number, context: SourceContext): void {
  const { values, seed } = context;
  startUnison(state.unison, () =>
    spreadUnison(state.unison, program.unisonVoices, program.slots, program.unisonRoutes, context),
  );
  retune(program, state, context);
  const random = values[program.slots.startPhaseRandom] / 100;
  for (let u = 0; u < program.unisonVoices; u++) {
    // Unison voices never start together, which would be one loud voice; how far notes differ is the patch's to say.
    const phase =
      values[program.slots.startPhaseCycles] +
      (u > 0 ? hashedRandom(0, index, u) : 0) +
      (random > 0 ? random * hashedRandom(seed, index, u) : 0);
    state.bank.phases[u] = phase - Math.floor(phase);
    state.bank.increments[u] = state.bank.nextIncrements[u];
    state.phaseBefore[u] = -1;
  }
  state.before.fill(0);
  state.beforeThat.fill(0);
  state.waiting.fill(0);
  state.output.fill(0);
  state.level = state.nextLevel;
  state.gain = gainOf(program, state, values);
  state.restingAs = undefined;
  startInteraction(program.incoming, state.interaction, values);
  rememberShape(program, state, values);
}

/** Keeps where the block has ended, for the next one to go on from. */
export function rememberShape(program: TonalProgram, state: TonalState, values: Float64Array): void {
  const { slots } = program;
  state.position = positionOf(program, values);
  state.second = secondOf(program, values);
  state.pulseWidth = widthOf(program, values);
  state.phaseAmount = values[slots.phaseAmount] / 100;
  state.extra = extraOf(program, values);
}

/** Adds a block of a source at the plain rate, straight from its band-limited table. */
export function renderTonal(program: TonalProgram, state: TonalState, context: SourceContext): void {
  const { values, from, to } = context;
  if (isAtRest(program, state, context)) {
    renderAtRest(program, state, context);
    return;
  }
  const nextGain = gainOf(program, state, values);
  tune(program, state, context);
  const nextPosition = positionOf(program, values);
  const nextSecond = secondOf(program, values);
  const nextWidth = widthOf(program, values);
  if (state.gain > 0 || nextGain > 0) {
    const { position, gain } = state;
    const final = Math.min(program.table.frameCount - 1, Math.ceil(Math.max(position, nextPosition)));
    // The two frames around the position, each at its share; more of them when the position moves fast.
    for (let frame = Math.floor(Math.min(position, nextPosition)); frame <= final; frame++) {
      const share = Math.max(0, 1 - Math.abs(position - frame));
      const nextShare = Math.max(0, 1 - Math.abs(nextPosition - frame));
      if (share === 0 && nextShare === 0) continue;
      addFrame(program, state, context, frame, gain * share, nextGain * nextShare, 0, 0);
    }
    if (state.second > 0 || nextSecond > 0) {
      // The second saw, upside down, is a pulse width behind.
      addFrame(
        program,
        state,
        context,
        program.table.frameCount - 1,
        -gain * state.second,
        -nextGain * nextSecond,
        state.pulseWidth,
        nextWidth,
      );
    }
  }
  noteRest(program, state, context, nextGain);
  advanceBank(state.bank, to - from);
  state.level = state.nextLevel;
  state.gain = nextGain;
  rememberShape(program, state, values);
}

/** Whether the last block, and so this one, is as the one before it. */
export const isAtRest = (program: TonalProgram, state: TonalState, { midi }: SourceContext): boolean =>
  state.restingAs === program && state.restingMidi === midi;

/** To be called before a block's ends become the next one's starts: keeps whether they are the same. */
export function noteRest(program: TonalProgram, state: TonalState, context: SourceContext, nextGain: number): void {
  const { values } = context;
  const { bank } = state;
  const resting =
    !program.moves &&
    state.gain === nextGain &&
    state.level === state.nextLevel &&
    !state.unison.moved &&
    state.position === positionOf(program, values) &&
    state.second === secondOf(program, values) &&
    state.pulseWidth === widthOf(program, values) &&
    bank.increments[0] === bank.nextIncrements[0];
  state.restingAs = resting ? program : undefined;
  state.restingMidi = context.midi;
}

function renderAtRest(program: TonalProgram, state: TonalState, context: SourceContext): void {
  const { position, second, gain } = state;
  if (gain > 0) {
    const frame = Math.floor(position);
    const share = position - frame;
    addFrame(program, state, context, frame, gain * (1 - share), gain * (1 - share), 0, 0);
    if (share > 0) addFrame(program, state, context, frame + 1, gain * share, gain * share, 0, 0);
    if (second > 0) {
      const { pulseWidth } = state;
      const last = program.table.frameCount - 1;
      addFrame(program, state, context, last, -gain * second, -gain * second, pulseWidth, pulseWidth);
    }
  }
  advanceBank(state.bank, context.to - context.from);
}

/** Reads one frame of a source's table, cross-fading between two copies when its pitch crosses a band limit. */
function addFrame(
  { table }: TonalProgram,
  { bank, unison, level, nextLevel }: TonalState,
  { left, right, from, to }: SourceContext,
  frame: number,
  gain: number,
  nextGain: number,
  shift: number,
  nextShift: number,
): void {
  const next = table.levels[nextLevel];
  const { left: l, right: r } = unison;
  if (level === nextLevel) {
    addTable(left, right, from, to, next, frame, bank, l, r, gain, nextGain, shift, nextShift);
    return;
  }
  const old = table.levels[level];
  addTable(left, right, from, to, old, frame, bank, l, r, gain, 0, shift, nextShift);
  addTable(left, right, from, to, next, frame, bank, l, r, 0, nextGain, shift, nextShift);
}
