import { interactionSchema, sourceSchema } from '../../patch/schemas/sourceSchema';
import { type Fall, fallOf } from './fall';
import { type Explainer, type Hypothesis, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';

export const FM_PAIR = 'FM pair';

const MOST_INDEX = 30;
/** Feedback under this is not heard as such. */
const LEAST_FEEDBACK = 0.05;
/** An index that falls by less stands still. */
const LEAST_INDEX_FALL = 0.2;

/** A sine whose phase another moves, with its index over time. */
export const explainFm: Explainer = ({ note, midi }) => {
  const { fm } = note.reading.traits;
  if (fm.carrierHz === null || fm.ratio === null) return [];
  const noteHz = 440 * 2 ** ((midi - 69) / 12);
  const carrierRatio = fm.carrierHz / noteHz;
  const { hopSeconds, values } = fm.index;
  const points = values.flatMap((radians, i) => (radians === null ? [] : [{ seconds: i * hopSeconds, radians }]));
  const pair = {
    carrierRatio,
    modulatorRatio: carrierRatio * fm.ratio,
    index: indexFallOf(points, note.fitted.onsetSeconds),
    feedback: fm.feedback,
  };
  const why = `lines stand at ${short(fm.carrierHz)} Hz and every ${short(fm.ratio)} times that to both sides: a sine moved by a sine`;
  return [pairOf(pair, fm.confidence, why)];
};

/** A sine that moves another, both against the note. */
export interface ModulatedPair {
  carrierRatio: number;
  modulatorRatio: number;
  index: Fall;
  feedback: number | null;
}

export function pairOf(
  { carrierRatio, modulatorRatio, index, feedback: told }: ModulatedPair,
  confidence: number,
  why: string,
): Hypothesis {
  const feedback = told !== null && told > LEAST_FEEDBACK ? told : null;
  const target = { moduleId: 'fm', parameter: 'index' };
  const envelopeRoute = routeId('index-fall', target);
  return {
    name: FM_PAIR,
    stage: 'sources',
    confidence,
    why,
    apply: (layer) => {
      layer.sources.push(
        sourceSchema.parse({
          kind: 'shape',
          id: 'source-1',
          name: 'carrier',
          shape: 'sine',
          tuning: 'ratio',
          ratio: within(carrierRatio),
        }),
        sourceSchema.parse({
          kind: 'shape',
          id: 'source-2',
          name: 'modulator',
          shape: 'sine',
          tuning: 'ratio',
          ratio: within(modulatorRatio),
          levelDb: -96,
        }),
      );
      const fixed = { kind: 'fm', id: 'fm', from: 'source-2', to: 'source-1', index: index.rest };
      layer.interactions.push(interactionSchema.parse(fixed));
      if (feedback !== null) {
        const loop = { kind: 'fm', id: 'feedback', from: 'source-2', to: 'source-2', index: feedback };
        layer.interactions.push(interactionSchema.parse(loop));
      }
      if (index.range !== 0)
        route(layer, fallingEnvelope('index-fall', 'index fall', index.seconds), target, index.range);
    },
    freedoms: [
      ...freedoms('fm', 'sources', { index: 0.05 }),
      ...(feedback === null ? [] : freedoms('feedback', 'sources', { index: 0.04 })),
      ...(index.range !== 0
        ? [
            ...freedoms(envelopeRoute, 'sources', { amount: 0.03 }),
            ...freedoms('index-fall', 'sources', { decaySeconds: 0.04 }),
          ]
        : []),
    ],
    brings: [],
  };
}

const within = (ratio: number) => Math.min(32, Math.max(0.0625, Math.round(1e4 * ratio) / 1e4));

/** What the index rests at, how far it falls to there, and how fast; one that stands still has no fall. */
export function indexFallOf(points: readonly { seconds: number; radians: number }[], onsetSeconds: number): Fall {
  const { rest, range, seconds } = fallOf(
    points.map(({ seconds: at, radians }) => ({ seconds: at - onsetSeconds, value: radians })),
  );
  if (Math.abs(range) > LEAST_INDEX_FALL)
    return { rest: Math.min(MOST_INDEX, rest), range: Math.min(MOST_INDEX, range), seconds };
  const mean = points.reduce((sum, { radians }) => sum + radians, 0) / points.length;
  return { rest: points.length > 0 ? mean : 1, range: 0, seconds };
}
