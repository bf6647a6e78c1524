import { rateOfDivision } from '../../parameters/division';
import type { Lfo } from '../../patch/schema';
import { writeRandom } from '../random';

export interface LfoProgram {
  shape: Lfo['shape'];
  points: { at: Float64Array; value: Float64Array; bend: Float64Array };
  /**
   * Rate over the value in Hz, which routes may move: 1, or for a synced LFO what leads to its division's
   * rate.
   */
  perHz: number;
  oneShot: boolean;
  free: boolean;
  slots: {
    rateHz: number;
    startPhaseCycles: number;
    delaySeconds: number;
    fadeInSeconds: number;
    smoothing: number;
  };
}

export interface LfoState extends ShapeReader {
  /** Turns since the start, without the start phase. */
  turns: number;
  /** Time up to which `turns` has been counted. */
  seconds: number;
  smoothed: number;
  /** How much of it has faded in, 0..1. */
  depth: number;
}

/** The fields are written out, since copied ones would be boxed at every change. */
export const createLfoState = (): LfoState => ({
  at: 0,
  target: 0,
  turn: NaN,
  seed: NaN,
  random: new Float64Array(2),
  turns: 0,
  seconds: 0,
  smoothed: 0,
  depth: 1,
});

export function compileLfo(lfo: Lfo, bpm: number, slots: LfoProgram['slots']): LfoProgram {
  return {
    shape: lfo.shape,
    points: {
      at: Float64Array.from(lfo.points, (point) => point.at),
      value: Float64Array.from(lfo.points, (point) => point.value),
      bend: Float64Array.from(lfo.points, (point) => point.bend / 100),
    },
    perHz: ((lfo.division === null ? undefined : rateOfDivision(lfo.division, bpm)) ?? lfo.rateHz) / lfo.rateHz,
    oneShot: lfo.run === 'oneShot',
    free: lfo.restart === 'free',
    slots,
  };
}

/** Full smoothing takes a time constant of this share of a turn. */
const SMOOTHING_SHARE = 0.25;

/** @param startSeconds when the note starts on the engine's clock, for an LFO that runs on between notes */
export function startLfo(program: LfoProgram, state: LfoState, values: Float64Array, startSeconds: number): void {
  const { slots } = program;
  state.turns = program.free ? rateOf(program, values) * startSeconds : 0;
  state.seconds = 0;
  state.at = state.turns + values[slots.startPhaseCycles];
  readShape(program, state, 0);
  state.smoothed = state.target;
  state.depth = 1;
}

const rateOf = ({ perHz, slots }: LfoProgram, values: Float64Array) => perHz * values[slots.rateHz];

/**
 * Brings `smoothed`, 0..1, to the note's time, which must not go back between calls. Delay holds it at its
 * start, fade-in lets `depth` grow from 0 to 1.
 *
 * @param place among the layer's modulators: each is random in its own way
 */
export function advanceLfo(
  program: LfoProgram,
  state: LfoState,
  values: Float64Array,
  { seconds, seed }: { readonly seconds: number; readonly seed: number },
  place: number,
): void {
  const { slots, oneShot } = program;
  const delay = values[slots.delaySeconds];
  const rate = rateOf(program, values);
  const passed = Math.max(0, seconds - Math.max(state.seconds, delay));
  state.seconds = seconds;
  state.turns += rate * passed;
  const fadeIn = values[slots.fadeInSeconds];
  state.depth = seconds < delay ? 0 : fadeIn > 0 ? Math.min(1, (seconds - delay) / fadeIn) : 1;
  state.at = (oneShot ? Math.min(1 - 1e-9, state.turns) : state.turns) + values[slots.startPhaseCycles];
  readShape(program, state, seed + 31 * place);
  const { target } = state;
  const tau = (values[slots.smoothing] / 100) * (SMOOTHING_SHARE / rate);
  state.smoothed = tau > 0 ? target + (state.smoothed - target) * Math.exp(-passed / tau) : target;
}

/**
 * Where a shape is read, in turns, and what it is there, 0..1: in an object, since numbers that pass between
 * functions are boxed.
 */
interface ShapeReader {
  at: number;
  target: number;
  /** Turn and seed that the two random values belong to, which stand at the turn's start and at its end. */
  turn: number;
  seed: number;
  random: Float64Array;
}

/**
 * An LFO's shape at a place in turns, 0..1: shapes start where they rise (sine in its middle, the others at
 * their lowest).
 */
export function shapeAt(program: Pick<LfoProgram, 'shape' | 'points'>, turns: number, seed: number): number {
  const reader = createLfoState();
  reader.at = turns;
  readShape(program, reader, seed);
  return reader.target;
}

function readShape({ shape, points }: Pick<LfoProgram, 'shape' | 'points'>, reader: ShapeReader, seed: number): void {
  const turn = Math.floor(reader.at);
  const x = reader.at - turn;
  switch (shape) {
    case 'sine':
      reader.target = 0.5 + 0.5 * Math.sin(2 * Math.PI * x);
      break;
    case 'triangle':
      reader.target = x < 0.5 ? 2 * x : 2 - 2 * x;
      break;
    case 'rising':
      reader.target = x;
      break;
    case 'falling':
      reader.target = 1 - x;
      break;
    case 'square':
      reader.target = x < 0.5 ? 1 : 0;
      break;
    case 'randomSteps':
      lookUpRandom(reader, turn, seed);
      reader.target = reader.random[0];
      break;
    case 'randomCurve':
      lookUpRandom(reader, turn, seed);
      reader.target = reader.random[0] + (reader.random[1] - reader.random[0]) * x * x * (3 - 2 * x);
      break;
    case 'drawn':
      reader.target = drawnAt(points, x);
  }
}

function lookUpRandom(reader: ShapeReader, turn: number, seed: number): void {
  if (reader.turn === turn && reader.seed === seed) return;
  reader.turn = turn;
  reader.seed = seed;
  writeRandom(reader.random, 0, seed, 77, turn);
  writeRandom(reader.random, 1, seed, 77, turn + 1);
}

/** The drawn turn, closed: after the last point the way leads back to the first. */
function drawnAt({ at, value, bend }: LfoProgram['points'], x: number): number {
  const last = at.length - 1;
  if (last === 0) return value[0];
  let i = last;
  while (i > 0 && at[i] > x) i--;
  // Before the first point runs the way from the last one of the turn before.
  const from = at[i] > x ? last : i;
  const to = from === last ? 0 : from + 1;
  const start = from === last && x < at[last] ? at[last] - 1 : at[from];
  const end = to === 0 && start >= 0 ? at[0] + 1 : at[to];
  const along = end > start ? (x - start) / (end - start) : 1;
  return value[from] + (value[to] - value[from]) * bent(along, bend[from]);
}

const BEND_POWER = 6;

/**
 * Bend, −1 to 1, of a stretch that has gone `share` of its way in its middle, over 0 and under 1; the nearest
 * one that there is.
 */
export function bendThrough(share: number): number {
  const slowFirst = share <= 0.5;
  const power = -Math.log2(slowFirst ? share : 1 - share);
  const bend = Math.min(1, Math.log(power) / Math.log(BEND_POWER));
  return slowFirst ? bend : -bend;
}

/** 0..1 to 0..1: straight at bend 0, slow first over it, fast first under it. */
function bent(x: number, bend: number): number {
  if (bend === 0) return x;
  return bend > 0 ? x ** (BEND_POWER ** bend) : 1 - (1 - x) ** (BEND_POWER ** -bend);
}
