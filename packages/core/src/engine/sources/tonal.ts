import { ratioFromSemitones } from '../../dsp/pitch';
import { SILENT_DB } from '../../parameters/build';
import { type BandlimitedTable, levelFor } from '../tables/bandlimitedTable';
import { type DrawnPhaseProgram, type PhaseShapeCode, phaseShapeCode } from '../shaping/phaseShapes';
import { hashedRandom } from '../random';
import { type FrameReading, type OscillatorBank, addTable, advanceBank } from '../tables/readTable';
import {
  type Incoming,
  type InteractionState,
  type ModulatingState,
  createInteractionState,
  createModulatorOutput,
  startInteraction,
} from './interaction';
import { type LevelSlots, type SourceContext, type UnisonRoute, sourceGain } from './source';
import { type Tuning, type TuningMemo, type TuningSlots, createTuningMemo, tuneMiddle } from './tuning';
import { MAX_UNISON, type UnisonSlots, type UnisonState, createUnison, spreadUnison, startUnison } from './unison';

/** Slots of a source that repeats one period. */
export interface TonalSlots extends TuningSlots, UnisonSlots, LevelSlots {
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

/** What a source is at one end of a block. */
interface Moment {
  gain: number;
  /** Frame position 0..frames−1, and the share of the second saw of a pulse. */
  position: number;
  second: number;
  /** Of a shape, 0..1. */
  pulseWidth: number;
  phaseAmount: number;
  /** Ratio of a synced oscillator to the note, or the number of steps of a period. */
  extra: number;
}

const createMoment = (): Moment => ({ gain: 0, position: 0, second: 0, pulseWidth: 0, phaseAmount: 0, extra: 0 });

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
  levelMemo: { levelDb: number; letThrough: number; gain: number };
  /** Where the block starts and where it ends. */
  now: Moment;
  next: Moment;
  /**
   * Of each unison voice: the last two outputs, the phase they were read at, and the output that waits for a
   * correction.
   */
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
    levelMemo: { levelDb: 0, letThrough: 100, gain: 1 },
    now: createMoment(),
    next: createMoment(),
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
function gainOf({ on, slots }: TonalProgram, { levelMemo }: TonalState, values: Float64Array): number {
  const levelDb = values[slots.levelDb];
  if (!on || levelDb <= SILENT_DB) return 0;
  const letThrough = values[slots.letThrough];
  if (levelMemo.levelDb !== levelDb || levelMemo.letThrough !== letThrough) {
    levelMemo.levelDb = levelDb;
    levelMemo.letThrough = letThrough;
    levelMemo.gain = sourceGain(on, slots, values);
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
  tuneMiddle(program.tuning, program.slots, context, state.tuning);
  const middle = state.tuning.hz / context.sampleRateHz;
  bank.count = program.unisonVoices;
  for (let u = 0; u < bank.count; u++) bank.nextIncrements[u] = Math.min(MAX_INCREMENT, middle * unison.ratios[u]);
  const highest = middle * unison.highestRatio;
  if (highest !== state.highest) {
    state.highest = highest;
    state.nextLevel = levelFor(program.table, highest);
  }
}

/** Where in its period a saw is lowest. */
const RAMP_BOTTOM = 0.5;

/**
 * Works out what the source is at the end of the block. It writes where others would return, since numbers
 * that leave a function are boxed.
 */
export function aim(program: TonalProgram, state: TonalState, values: Float64Array): void {
  const { shape, slots, table, phaseShape } = program;
  const { next } = state;
  next.gain = gainOf(program, state, values);
  next.phaseAmount = values[slots.phaseAmount] / 100;
  next.extra = 1;
  if (phaseShape === phaseShapeCode.stairs) next.extra = values[slots.phaseSteps];
  else if (phaseShape === phaseShapeCode.hardSync || phaseShape === phaseShapeCode.hardSyncFaded) {
    next.extra = ratioFromSemitones(values[slots.syncSemitones]);
    // Waveforms begin anew at the bottom of their ramp, as those of a capacitor that is discharged; a table
    // where it begins.
    next.phaseAmount = shape < 0 ? 0 : RAMP_BOTTOM;
  }
  if (shape < 0) {
    next.position = table.frameCount > 1 ? (values[slots.position] / 100) * (table.frameCount - 1) : 0;
    return;
  }
  const morphed = shape + values[slots.morph] / 100;
  next.position = Math.min(2, morphed);
  next.second = Math.min(1, Math.max(0, morphed - 2));
  next.pulseWidth = values[slots.pulseWidth] / 100;
}

/** Makes the end of the block the start of the next one. */
export function arrive({ now, next }: TonalState): void {
  now.gain = next.gain;
  now.position = next.position;
  now.second = next.second;
  now.pulseWidth = next.pulseWidth;
  now.phaseAmount = next.phaseAmount;
  now.extra = next.extra;
}

/** Sets what the first block of a note ramps from. */
export function startTonal(program: TonalProgram, state: TonalState, index: number, context: SourceContext): void {
  const { values, seed } = context;
  startUnison(state.unison, program.unisonVoices, program.slots, program.unisonRoutes, context);
  retune(program, state, context);
  const random = values[program.slots.startPhaseRandom] / 100;
  for (let u = 0; u < program.unisonVoices; u++) {
    // Unison voices never start together, which would be one loud voice; how far notes differ is the patch's
    // to say.
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
  state.restingAs = undefined;
  startInteraction(program.incoming, state.interaction, values);
  aim(program, state, values);
  arrive(state);
}

/** Adds a block of a source at the plain rate, straight from its band-limited table. */
export function renderTonal(program: TonalProgram, state: TonalState, context: SourceContext): void {
  const { values, from, to } = context;
  if (isAtRest(program, state, context)) {
    renderAtRest(program, state, context);
    return;
  }
  aim(program, state, values);
  tune(program, state, context);
  const { now, next } = state;
  if (now.gain > 0 || next.gain > 0) {
    const final = Math.min(program.table.frameCount - 1, Math.ceil(Math.max(now.position, next.position)));
    // The two frames around the position, each at its share; more of them when the position moves fast.
    for (let frame = Math.floor(Math.min(now.position, next.position)); frame <= final; frame++) {
      const share = Math.max(0, 1 - Math.abs(now.position - frame));
      const nextShare = Math.max(0, 1 - Math.abs(next.position - frame));
      if (share === 0 && nextShare === 0) continue;
      reading.gain = now.gain * share;
      reading.nextGain = next.gain * nextShare;
      addFrame(program, state, context, frame);
    }
    if (now.second > 0 || next.second > 0) {
      // The second saw, upside down, is a pulse width behind.
      reading.gain = -now.gain * now.second;
      reading.nextGain = -next.gain * next.second;
      addShiftedSaw(program, state, context);
    }
  }
  noteRest(program, state, context);
  advanceBank(state.bank, to - from);
  state.level = state.nextLevel;
  arrive(state);
}

/** Whether the last block, and so this one, is as the one before it. */
export const isAtRest = (program: TonalProgram, state: TonalState, { midi }: SourceContext): boolean =>
  state.restingAs === program && state.restingMidi === midi;

/** To be called before a block's ends become the next one's starts: keeps whether they are the same. */
export function noteRest(program: TonalProgram, state: TonalState, { midi }: SourceContext): void {
  const { bank, now, next } = state;
  const resting =
    !program.moves &&
    now.gain === next.gain &&
    state.level === state.nextLevel &&
    !state.unison.moved &&
    now.position === next.position &&
    now.second === next.second &&
    now.pulseWidth === next.pulseWidth &&
    bank.increments[0] === bank.nextIncrements[0];
  state.restingAs = resting ? program : undefined;
  state.restingMidi = midi;
}

function renderAtRest(program: TonalProgram, state: TonalState, context: SourceContext): void {
  const { position, second, gain } = state.now;
  if (gain > 0) {
    const frame = Math.floor(position);
    const share = position - frame;
    reading.gain = reading.nextGain = gain * (1 - share);
    addFrame(program, state, context, frame);
    if (share > 0) {
      reading.gain = reading.nextGain = gain * share;
      addFrame(program, state, context, frame + 1);
    }
    if (second > 0) {
      reading.gain = reading.nextGain = -gain * second;
      addShiftedSaw(program, state, context);
    }
  }
  advanceBank(state.bank, context.to - context.from);
}

/** What `addFrame` adds at. */
const reading: FrameReading = { gain: 0, nextGain: 0, shift: 0, nextShift: 0 };
/** Halves of it, while one copy of a table takes over from another. */
const fading: FrameReading = { gain: 0, nextGain: 0, shift: 0, nextShift: 0 };

/** The saw, which is the last shape, a pulse width behind. */
function addShiftedSaw(program: TonalProgram, state: TonalState, context: SourceContext): void {
  reading.shift = state.now.pulseWidth;
  reading.nextShift = state.next.pulseWidth;
  addFrame(program, state, context, program.table.frameCount - 1);
  reading.shift = reading.nextShift = 0;
}

/**
 * Reads one frame of a source's table, cross-fading between two copies when its pitch crosses a band limit.
 */
function addFrame(
  { table }: TonalProgram,
  { bank, unison, level, nextLevel }: TonalState,
  { left, right, from, to }: SourceContext,
  frame: number,
): void {
  const next = table.levels[nextLevel];
  const { left: l, right: r } = unison;
  if (level === nextLevel) {
    addTable(left, right, from, to, next, frame, bank, l, r, reading);
    return;
  }
  fading.shift = reading.shift;
  fading.nextShift = reading.nextShift;
  fading.gain = reading.gain;
  fading.nextGain = 0;
  addTable(left, right, from, to, table.levels[level], frame, bank, l, r, fading);
  fading.gain = 0;
  fading.nextGain = reading.nextGain;
  addTable(left, right, from, to, next, frame, bank, l, r, fading);
}
