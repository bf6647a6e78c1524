import { DECAY_TAUS } from '../../patch/envelopeCurve';
import { interactionSchema, sourceSchema } from '../../patch/schemas/sourceSchema';
import { type Explainer, type Hypothesis, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';

export const FM_PAIR = 'FM pair';

const MOST_INDEX = 30;
/** Feedback under this is not heard as such. */
const LEAST_FEEDBACK = 0.05;
/** An index that falls by less stands still. */
const LEAST_FALL = 0.2;

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
    index: fallOf(points, note.fitted.onsetSeconds),
    feedback: fm.feedback,
  };
  const why = `lines stand at ${short(fm.carrierHz)} Hz and every ${short(fm.ratio)} times that to both sides: a sine moved by a sine`;
  return [pairOf(pair, fm.confidence, why)];
};

/** A sine that moves another, both against the note. */
export interface ModulatedPair {
  carrierRatio: number;
  modulatorRatio: number;
  index: IndexFall;
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
      if (index.fall !== 0)
        route(layer, fallingEnvelope('index-fall', 'index fall', index.seconds), target, index.fall);
    },
    freedoms: [
      ...freedoms('fm', 'sources', { index: 0.05 }),
      ...(feedback === null ? [] : freedoms('feedback', 'sources', { index: 0.04 })),
      ...(index.fall !== 0
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

/** What the index rests at, how far it falls to there, and how fast. */
export interface IndexFall {
  rest: number;
  fall: number;
  /** A decay as envelopes count it. */
  seconds: number;
}

/** Time constants that are tried, s. */
const TAUS = Array.from({ length: 40 }, (_, i) => 0.02 * 1.15 ** i);

/** The fall to a rest that is nearest to an index over time, by least squares for each time constant. */
export function fallOf(points: readonly { seconds: number; radians: number }[], onsetSeconds: number): IndexFall {
  const mean = points.reduce((sum, { radians }) => sum + radians, 0) / Math.max(1, points.length);
  const still: IndexFall = { rest: points.length > 0 ? mean : 1, fall: 0, seconds: 0.3 };
  let best = still;
  let least = points.reduce((sum, { radians }) => sum + (radians - mean) ** 2, 0);
  for (const tau of TAUS) {
    const shapes = points.map(({ seconds }) => Math.exp(-Math.max(0, seconds - onsetSeconds) / tau));
    const middle = shapes.reduce((a, b) => a + b, 0) / Math.max(1, shapes.length);
    let [cross, square] = [0, 1e-12];
    shapes.forEach((shape, i) => {
      cross += (shape - middle) * (points[i].radians - mean);
      square += (shape - middle) ** 2;
    });
    const rest = Math.max(0, mean - (cross / square) * middle);
    const fall = middle > 0 ? (mean - rest) / middle : 0;
    const error = points.reduce((sum, { radians }, i) => sum + (radians - rest - fall * shapes[i]) ** 2, 0);
    if (error < least) {
      least = error;
      best = { rest: Math.min(MOST_INDEX, rest), fall: Math.min(MOST_INDEX, fall), seconds: tau * DECAY_TAUS };
    }
  }
  return Math.abs(best.fall) > LEAST_FALL ? best : still;
}
