import type { FittedContour } from '../level/fittedContour';
import type { LevelContour } from '../level/levelContour';
import type { PartialEnvelopes } from '../partials/partialEnvelopes';
import { type Echo, type FoundEcho, confidenceOf, echoOf, inWords } from './echo';
import { findPreDelay } from './preDelay';
import { levelWithoutRepeats } from './repeats';
import { type Room, findRoom } from './room';
import { type PowersBetween, changesSides, powersOf } from './sides';
import type { Reading } from '../schema';
import { mean } from '../statistics';
import { struckEchoOf } from './struckEcho';
import { MIN_STEPS, STEP_SECONDS, levelsInSteps, tailOf, tailStarts } from './tail';
import { withoutRoom } from './withoutRoom';

export type Space = Reading['traits']['space'];

export const noSpace = { rt60Seconds: null, preDelaySeconds: null, roomDb: null, echo: null };

/** A note whose end is looked at for what goes on after it. */
export interface Ringing {
  level: LevelContour;
  fitted: FittedContour;
  envelopes: PartialEnvelopes;
  /** Detuned voices fluctuate as a room does. */
  detuned: boolean;
  /** So do partials that notches go through, or that a copy is added to. */
  combed: boolean;
  bpm: number | null;
}

export interface MeasuredSpace {
  space: Space;
  /** The level of the tone alone; undefined where nothing comes back. */
  withoutRepeats?: LevelContour;
  room?: Room;
  /** Whether partials are as wide as repeats make them: those of a held tone are not. */
  isSpread: boolean;
}

/** Echoes and the room of a note, from what its level and its partials do once it falls. */
export function measureSpace({ level, fitted, envelopes, detuned, combed, bpm }: Ringing): MeasuredSpace {
  const levels = levelsInSteps(level);
  const found = echoOf(level, bpm);
  if (found) {
    const { confidence, fromSeconds } = found;
    const { seconds } = found.echo;
    // Voices that beat go as evenly; what is heard again of them keeps its phases as it is the same wave.
    const isTremolo =
      !(found.isHeardAgain && detuned) &&
      isGradual(levels, fromSeconds, seconds) &&
      goesOn(envelopes, fromSeconds, seconds);
    if (!isTremolo)
      return {
        space: {
          ...noSpace,
          echo: withSides(found.echo, level.waveform && powersOf(level.waveform), fromSeconds),
          confidence,
        },
        withoutRepeats: levelWithoutRepeats(level, found.repeats, fromSeconds),
        isSpread: !found.isHeld,
      };
  }
  const struck = level.waveform && struckEchoOf(level.waveform);
  if (struck) {
    const { fit, powersBetween } = struck;
    return {
      space: {
        ...noSpace,
        echo: withSides(inWords(fit, bpm), powersBetween, fit.from * STEP_SECONDS),
        confidence: confidenceOf(fit),
      },
      // Until it has died away the tone is what the level has beside its repeats.
      withoutRepeats: levelWithoutRepeats(level, fit, level.rms.length * level.hopSeconds),
      isSpread: false,
    };
  }
  const ends = tailStarts(levels);
  const endsSeconds = ends.map((end) => end * STEP_SECONDS);
  const room = findRoom(
    envelopes,
    fitted.onsetSeconds,
    endsSeconds,
    combed ? 'combed' : detuned ? 'beating' : 'steady',
  );
  if (!room) {
    const confidence = tailOf(levels, ends[ends.length - 1]) > MIN_STEPS ? 0.6 : 0.3;
    return { space: { ...noSpace, confidence }, isSpread: false };
  }
  const { rt60Seconds, confidence, fromSeconds } = room;
  const preDelay = findPreDelay(envelopes, fitted.onsetSeconds, fromSeconds);
  const preDelaySeconds = preDelay === undefined ? null : Number(preDelay.toFixed(4));
  const roomDb = Number(withoutRoom(level, room).roomDb.toPrecision(3));
  return { space: { rt60Seconds, preDelaySeconds, roomDb, echo: null, confidence }, room, isSpread: false };
}

const withSides = (echo: FoundEcho['echo'], powersBetween: PowersBetween | undefined, fromSeconds: number): Echo => ({
  ...echo,
  changesSides: !!powersBetween && changesSides(powersBetween, fromSeconds, echo.seconds),
});

/** Repeats begin and end at once: over so many steps the level moves by this much more than a sine does. */
const SUDDEN_STEPS = 3;
const SUDDEN = 1.7;
/** A turn without what begins the next. */
const LOOKED_TURN = 0.9;

/** Whether a level goes up and down, or down alone, as evenly as a sine of its turn does. */
function isGradual(levels: Float64Array, fromSeconds: number, turnSeconds: number): boolean {
  const from = Math.round(fromSeconds / STEP_SECONDS);
  const steps = Math.round(turnSeconds / STEP_SECONDS);
  const turn = levels.subarray(from, from + Math.floor(LOOKED_TURN * steps));
  const moves = levels
    .subarray(from + SUDDEN_STEPS, from + steps + 2 * SUDDEN_STEPS)
    .map((db, i) => Math.abs(db - levels[from + i]));
  const range = Math.max(...turn) - Math.min(...turn);
  return Math.max(...moves) < (SUDDEN * range * Math.PI * SUDDEN_STEPS) / steps;
}

/** Partials that a pitch a little off does not turn, and how much of them keeps its phase in what goes on. */
const LOW_PARTIALS = 6;
const LEAST_PARTIALS = 3;
const COHERENT = 0.8;

/**
 * Whether what comes back is the same tone, made softer and louder: then its partials have the phases that
 * they had a turn before, which those of repeats have where their time is one of whole periods.
 */
function goesOn(
  { seconds, hopSeconds, partials }: PartialEnvelopes,
  fromSeconds: number,
  turnSeconds: number,
): boolean {
  const lag = Math.round(turnSeconds / hopSeconds);
  const first = Math.max(
    0,
    seconds.findIndex((at) => at >= fromSeconds),
  );
  const last = Math.min(first + lag, seconds.length - lag);
  const low = partials.slice(0, LOW_PARTIALS);
  if (low.length < LEAST_PARTIALS || last <= first) return false;
  const kept = low.map(({ re, im }) => {
    let [together, now, later] = [0, 0, 0];
    for (let i = first; i < last; i++) {
      together += re[i] * re[i + lag] + im[i] * im[i + lag];
      now += re[i] ** 2 + im[i] ** 2;
      later += re[i + lag] ** 2 + im[i + lag] ** 2;
    }
    return together / Math.sqrt(now * later || 1);
  });
  return mean(kept) > COHERENT;
}
