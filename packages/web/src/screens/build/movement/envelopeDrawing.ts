import { decibelsFromGain, gainFromDecibels } from '@imprint/core/dsp/decibels';
import { SILENT_DB } from '@imprint/core/parameters/build';
import { formatValue, parseValue } from '@imprint/core/parameters/format';
import { parametersOf } from '@imprint/core/parameters/table';
import { type EnvelopeTimes, compileEnvelope, curveThrough, envelopeValue } from '@imprint/core/patch/envelopeCurve';
import type { Envelope } from '@imprint/core/patch/schema';
import type { EditedPoint } from '../../../drawing/PointEditor';
import { type Axis, axisIn } from '../../../drawing/axis';

/**
 * An envelope as it is drawn: its stages side by side, each as wide as the root of its time, so that an
 * attack of milliseconds can be grasped beside a release of seconds.
 */
export interface EnvelopeDrawing {
  /** Ends of delay, attack, hold, decay and release. */
  points: EditedPoint[];
  curve: EditedPoint[];
  /** Middles of the stages that can be bent, with the levels at both ends. */
  bends: { stage: BentStage; x: number; y: number; from: number; to: number }[];
}

type BentStage = 'attack' | 'decay' | 'release';

/** Parameters that the points set by their place along the picture, in order. */
export const stages = ['delaySeconds', 'attackSeconds', 'holdSeconds', 'decaySeconds', 'releaseSeconds'] as const;
type Stage = (typeof stages)[number];
const DECAY = stages.indexOf('decaySeconds');

/** Width of a stage of one second. */
const SECOND = 0.3;
/** Least width, so that every stage can be grasped. */
const LEAST = 0.035;
/** Width of the stretch from the end of the decay to the end of the note. */
const HELD = 0.25;
const STAGE_POINTS = 24;
/** Under this a level is drawn at the bottom and means silence. */
const BOTTOM = 0.001;

const widthOf = (seconds: number) => LEAST + SECOND * Math.sqrt(seconds);
const secondsOf = (width: number) => (Math.max(0, width - LEAST) / SECOND) ** 2;

export function drawEnvelope(envelope: EnvelopeTimes): EnvelopeDrawing {
  const program = compileEnvelope({ ...envelope, loop: false });
  const points: EditedPoint[] = [];
  const curve: EditedPoint[] = [{ x: 0, y: 0 }];
  const bends: EnvelopeDrawing['bends'] = [];
  let x = 0;
  let seconds = 0;
  /** Draws a stretch of the note's time; `off` is when it was let go. */
  const stretch = (width: number, length: number, off = Infinity) => {
    const middle = envelopeValue(program, seconds + length / 2, off);
    for (let i = 1; i <= STAGE_POINTS && length > 0; i++) {
      const share = i / STAGE_POINTS;
      // What begins at a point belongs to the next stage.
      curve.push({ x: x + share * width, y: envelopeValue(program, seconds + share * length * (1 - 1e-9), off) });
    }
    const from = x;
    x += width;
    seconds += length;
    return { x: (from + x) / 2, y: middle };
  };
  const { decaySeconds, sustain, releaseSeconds } = program;
  const turn = (y: number) => curve.push({ x, y });

  stretch(widthOf(program.delaySeconds), program.delaySeconds);
  points.push({ x, y: 0 });
  turn(0);
  const attack = stretch(widthOf(program.attackSeconds), program.attackSeconds);
  points.push({ x, y: 1 });
  turn(1);
  const holdSeconds = program.decayStartSeconds - program.attackSeconds;
  stretch(widthOf(holdSeconds), holdSeconds);
  points.push({ x, y: 1 });
  turn(1);
  const decay = stretch(widthOf(decaySeconds), decaySeconds);
  points.push({ x, y: sustain });
  if (decaySeconds === 0) turn(sustain);
  stretch(HELD, Math.max(decaySeconds, 0.1));
  const off = seconds;
  const level = envelopeValue(program, off);
  const release = stretch(widthOf(releaseSeconds), releaseSeconds, off);
  points.push({ x, y: 0 });
  turn(0);

  if (program.attackSeconds > 0) bends.push({ stage: 'attack', ...attack, from: 0, to: 1 });
  if (decaySeconds > 0 && sustain < 0.95) bends.push({ stage: 'decay', ...decay, from: 1, to: sustain });
  if (releaseSeconds > 0 && level > 0.05) bends.push({ stage: 'release', ...release, from: level, to: 0 });
  return { points, curve, bends };
}

/** Where a stage begins in the drawing. */
const startOf = ({ points }: EnvelopeDrawing, index: number) =>
  index === 0 ? 0 : points[index - 1].x + (index > DECAY ? HELD : 0);

/** The time of one stage as it is told and typed, at the place where the stage ends. */
export function stageAxis(drawing: EnvelopeDrawing, index: number, range: Axis['range']): Axis {
  const start = startOf(drawing, index);
  const times = axisIn('s', [0, Infinity]);
  return {
    range,
    text: (x) => times.text(secondsOf(x - start)),
    parse: (text) => {
      const seconds = times.parse(text);
      return seconds === undefined ? undefined : start + widthOf(Math.max(0, seconds));
    },
  };
}

/** Levels of an envelope, which are drawn as gains and told in decibels. */
export const LEVELS: Axis = {
  range: [0, 1.04],
  text: (gain) => formatValue(gain < BOTTOM ? SILENT_DB : Math.min(0, decibelsFromGain(gain)), 'dB'),
  parse: (text) => {
    const db = parseValue(text, 'dB');
    return db === undefined ? undefined : db <= SILENT_DB ? 0 : gainFromDecibels(db);
  },
};

/** What an envelope becomes when the end of one of its stages is moved. */
export function moveStage(envelope: Envelope, index: number, to: EditedPoint): Partial<Envelope> {
  const start = startOf(drawEnvelope(envelope), index);
  const name: Stage = stages[index];
  const { max } = parametersOf('envelope')[name];
  const fields: Partial<Envelope> = { [name]: Math.min(max, Number(secondsOf(to.x - start).toPrecision(4))) };
  if (index !== DECAY) return fields;
  const level = Math.min(1, to.y);
  const sustainDb = level < BOTTOM ? SILENT_DB : Math.round(10 * decibelsFromGain(level)) / 10;
  return { ...fields, sustainDb };
}

/** What an envelope becomes when a stage is bent so that it has gone `share` of its way in its middle. */
export function bendStage(stage: BentStage, share: number): Partial<Envelope> {
  return { [`${stage}Curve`]: Math.round(100 * curveThrough(stage, share)) };
}
