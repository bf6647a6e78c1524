import { defaultEnvelope } from '../../patch/defaults';
import { interactionSchema, sourceSchema } from '../../patch/sourceSchema';
import { fitContour } from '../../reading/level/fitContour';
import { type Explainer, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';

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
  const ratio = carrierRatio * fm.ratio;
  const index = indexOf(fm.index, note.fitted.onsetSeconds);
  const feedback = fm.feedback !== null && fm.feedback > LEAST_FEEDBACK ? fm.feedback : null;
  const target = { moduleId: 'fm', parameter: 'index' };
  const envelopeRoute = routeId('index-fall', target);
  return [
    {
      name: 'FM pair',
      stage: 'sources',
      confidence: fm.confidence,
      why: `lines stand at ${short(fm.carrierHz)} Hz and every ${short(fm.ratio)} times that to both sides: a sine moved by a sine`,
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
            ratio: within(ratio),
            levelDb: -96,
          }),
        );
        const fixed = { kind: 'fm', id: 'fm', from: 'source-2', to: 'source-1', index: index.rest };
        layer.interactions.push(interactionSchema.parse(fixed));
        if (feedback !== null) {
          const loop = { kind: 'fm', id: 'feedback', from: 'source-2', to: 'source-2', index: feedback };
          layer.interactions.push(interactionSchema.parse(loop));
        }
        if (index.fall > LEAST_FALL)
          route(layer, fallingEnvelope('index-fall', 'index fall', index.seconds), target, index.fall);
      },
      freedoms: [
        ...freedoms('fm', 'sources', { index: 0.05 }),
        ...(feedback === null ? [] : freedoms('feedback', 'sources', { index: 0.04 })),
        ...(index.fall > LEAST_FALL
          ? [
              ...freedoms(envelopeRoute, 'sources', { amount: 0.03 }),
              ...freedoms('index-fall', 'sources', { decaySeconds: 0.04 }),
            ]
          : []),
      ],
      brings: [],
    },
  ];
};

const within = (ratio: number) => Math.min(32, Math.max(0.0625, Math.round(1e4 * ratio) / 1e4));

/** What the index rests at, how far it falls to there, and how fast. */
function indexOf({ hopSeconds, values }: { hopSeconds: number; values: (number | null)[] }, onsetSeconds: number) {
  const heard = values.map((value) => value ?? 0).slice(Math.round(onsetSeconds / hopSeconds));
  const known = heard.filter((value) => value > 0);
  if (known.length === 0) return { rest: 1, fall: 0, seconds: defaultEnvelope('', 'x').decaySeconds };
  const sorted = [...known].sort((a, b) => a - b);
  const rest = sorted[Math.floor(0.1 * (sorted.length - 1))];
  const top = sorted[Math.floor(0.95 * (sorted.length - 1))];
  const moving = Float64Array.from(heard, (value) => Math.max(0, value - rest));
  const fitted = fitContour({ hopSeconds, windowSeconds: hopSeconds, rms: moving });
  return {
    rest: Math.min(MOST_INDEX, rest),
    fall: Math.min(MOST_INDEX, top - rest),
    seconds: Math.max(0.005, fitted.decaySeconds),
  };
}
