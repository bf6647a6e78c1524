import { decibelsFromGain, gainFromDecibels } from '../dsp/decibels';
import { SILENT_DB } from '../parameters/build';
import { formatValue } from '../parameters/format';
import type { Envelope } from './schema';

export type EnvelopeTimes = Pick<
  Envelope,
  'attackSeconds' | 'holdSeconds' | 'decaySeconds' | 'sustainDb' | 'releaseSeconds'
> &
  Partial<Pick<Envelope, 'delaySeconds' | 'attackCurve' | 'decayCurve' | 'releaseCurve' | 'loop'>>;

/** An envelope's constants, worked out once. */
export interface EnvelopeProgram {
  delaySeconds: number;
  attackSeconds: number;
  /** From the end of the delay on. */
  decayStartSeconds: number;
  decaySeconds: number;
  sustain: number;
  releaseSeconds: number;
  /** −1 slow first, 0 straight, 1 fast first. */
  attackCurve: number;
  decayCurve: number;
  releaseCurve: number;
  loop: boolean;
}

/** Travel that is left when a decay counts as over: 5 %, after three time constants. */
export const DECAY_TAUS = -Math.log(0.05);
/** A release is stated down to −60 dB. */
export const RELEASE_TAUS = Math.log(1000);
/** Shortest turn of a looped envelope. */
const MIN_LOOP_SECONDS = 0.001;

export function compileEnvelope(envelope: EnvelopeTimes): EnvelopeProgram {
  const { attackSeconds, holdSeconds, decaySeconds, sustainDb, releaseSeconds } = envelope;
  return {
    delaySeconds: envelope.delaySeconds ?? 0,
    attackSeconds,
    decayStartSeconds: attackSeconds + holdSeconds,
    decaySeconds,
    sustain: sustainDb <= SILENT_DB ? 0 : gainFromDecibels(sustainDb),
    releaseSeconds,
    attackCurve: (envelope.attackCurve ?? 0) / 100,
    decayCurve: (envelope.decayCurve ?? 100) / 100,
    releaseCurve: (envelope.releaseCurve ?? 100) / 100,
    loop: envelope.loop ?? false,
  };
}

/** Value 0..1 of an envelope at a time since note-on, let go at `releasedAt`. */
export function envelopeValue(program: EnvelopeProgram, seconds: number, releasedAt = Infinity): number {
  writeEnvelope(program, { seconds, releasedAt }, one, 0);
  return one[0];
}

const one = new Float64Array(1);

/**
 * Writes the value 0..1 of an envelope at a note's time to `out[at]`: delay, attack, hold, decay to the
 * sustain and, from `releasedAt` on, a release from wherever it was. At a curve of 1 decay and release are
 * exponential. A function of time alone, so that a voice can be joined at any point and a measured contour be
 * fitted with the very curve that will be played. Here numbers pass between functions in objects, since they
 * would be boxed otherwise.
 */
export function writeEnvelope(
  program: EnvelopeProgram,
  { seconds, releasedAt }: { readonly seconds: number; readonly releasedAt: number },
  out: Float64Array,
  at: number,
): void {
  if (seconds < 0) {
    out[at] = 0;
    return;
  }
  stage.seconds = Math.min(seconds, releasedAt) - program.delaySeconds;
  readHeld(program);
  const held = stage.value;
  if (seconds >= releasedAt) {
    stage.seconds = seconds - releasedAt;
    stage.length = program.releaseSeconds;
    stage.curve = program.releaseCurve;
    stage.taus = RELEASE_TAUS;
    readFall();
    stage.value *= held;
  }
  out[at] = stage.value;
}

/** Where the envelope stands within one of its stages, how that stage runs, and the value there. */
const stage = { seconds: 0, length: 0, curve: 0, taus: 0, value: 0 };

/** Reads `value` at `seconds` after the delay of a note that is held. */
function readHeld(program: EnvelopeProgram): void {
  const { attackSeconds, decayStartSeconds, decaySeconds, sustain } = program;
  if (stage.seconds < 0) {
    stage.value = 0;
    return;
  }
  stage.length = decaySeconds;
  stage.curve = program.decayCurve;
  stage.taus = DECAY_TAUS;
  let from = 0;
  if (program.loop) {
    const turn = Math.max(MIN_LOOP_SECONDS, decayStartSeconds + decaySeconds);
    if (stage.seconds >= turn) {
      // From the second turn on the attack starts where the decay ended.
      const inTurn = stage.seconds % turn;
      stage.seconds = decaySeconds;
      readFall();
      from = sustain + (1 - sustain) * stage.value;
      stage.seconds = inTurn;
    }
  }
  if (stage.seconds < attackSeconds) {
    stage.length = attackSeconds;
    stage.curve = program.attackCurve;
    readRise();
    stage.value = from + (1 - from) * stage.value;
  } else if (stage.seconds < decayStartSeconds) {
    stage.value = 1;
  } else {
    stage.seconds -= decayStartSeconds;
    readFall();
    stage.value = sustain + (1 - sustain) * stage.value;
  }
}

/**
 * Reads what is left of a fall from 1 to 0: a straight line mixed with an exponential (curve over 0, which
 * goes on for ever) or with a slow start (under 0).
 */
function readFall(): void {
  const { length, curve, taus } = stage;
  if (length <= 0) {
    stage.value = 0;
    return;
  }
  const x = stage.seconds / length;
  const line = Math.max(0, 1 - x);
  if (curve >= 1) stage.value = Math.exp(-taus * x);
  else if (curve >= 0) stage.value = line + curve * (Math.exp(-taus * x) - line);
  else stage.value = line - curve * (1 - late(Math.min(1, x)) - line);
}

/** Reads a rise from 0 to 1: straight at curve 0, fast first over it, slow first under it. */
function readRise(): void {
  const { curve } = stage;
  const x = stage.seconds / stage.length;
  if (curve === 0) stage.value = x;
  else if (curve > 0) stage.value = x + curve * (1 - late(1 - x) - x);
  else stage.value = x - curve * (late(x) - x);
}

/**
 * Curve, −1 to 1, of a stage that has gone `share` (0..1) of its way in its middle; the nearest one that
 * there is.
 */
export function curveThrough(stage: 'attack' | 'decay' | 'release', share: number): number {
  const sagging = 0.5 - late(0.5);
  const fall = { attack: sagging, decay: 0.5 - Math.exp(-DECAY_TAUS / 2), release: 0.5 - Math.exp(-RELEASE_TAUS / 2) };
  const bow = share - 0.5;
  return Math.max(-1, Math.min(1, bow / (bow < 0 ? sagging : fall[stage])));
}

/**
 * What decay and release have come to when their time is over, in words: exponential ones never quite arrive.
 */
export function stageEnds({ decayCurve, releaseCurve }: Pick<Envelope, 'decayCurve' | 'releaseCurve'>) {
  const left = (curve: number, taus: number) => Math.max(0, curve / 100) * Math.exp(-taus);
  const ofDecay = 100 * left(decayCurve, DECAY_TAUS);
  const ofRelease = left(releaseCurve, RELEASE_TAUS);
  return {
    decaySeconds: ofDecay > 0 ? `to ${formatValue(ofDecay, '%')} left` : 'all the way',
    releaseSeconds: ofRelease > 0 ? `to ${formatValue(decibelsFromGain(ofRelease), 'dB')}` : 'to silence',
  };
}

/** Slow first: an exponential of three time constants, turned round. */
const late = (x: number) => (Math.exp(DECAY_TAUS * x) - 1) / LATE_SPAN;
const LATE_SPAN = Math.exp(DECAY_TAUS) - 1;
