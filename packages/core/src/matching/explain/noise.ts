import { sourceSchema } from '../../patch/sourceSchema';
import { type Explainer, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';

/** Noise to either side of where its centre of gravity was found, as a ratio. */
const BAND_RATIO = 3;
const FIRST_SECONDS = 0.03;

/** Noise beside the partials, throughout or at the start only. */
export const explainNoise: Explainer = ({ note }) => {
  const { noise } = note.reading.traits;
  const { levelDb, centroidHz, attackOnly } = noise;
  if (levelDb === null) return [];
  const centre = centroidHz ?? 3000;
  const target = { moduleId: 'noise', parameter: 'letThrough' };
  const gate = routeId('noise-fall', target);
  return [
    {
      name: attackOnly ? 'noise of the attack' : 'noise',
      stage: 'noise',
      confidence: noise.confidence,
      why: `${attackOnly ? 'at the start ' : ''}there is noise around ${short(centre)} Hz, ${short(levelDb)} dB against the tone`,
      apply: (layer) => {
        layer.sources.push(
          sourceSchema.parse({
            kind: 'noise',
            id: 'noise',
            name: attackOnly ? 'attack noise' : 'breath',
            into: 'past',
            levelDb: Math.max(-60, Math.min(0, levelDb)),
            lowHz: Math.max(20, Math.round(centre / BAND_RATIO)),
            highHz: Math.min(20000, Math.round(centre * BAND_RATIO)),
            ...(attackOnly ? { letThrough: 0 } : {}),
          }),
        );
        if (attackOnly) route(layer, fallingEnvelope('noise-fall', 'Noise fall', FIRST_SECONDS), target, 100);
      },
      freedoms: [
        ...freedoms('noise', 'noise', { levelDb: 0.05, lowHz: 0.06, highHz: 0.05 }),
        ...(attackOnly ? freedoms('noise-fall', 'noise', { decaySeconds: 0.06 }) : []),
      ],
      brings: attackOnly ? ['noise', gate] : ['noise'],
    },
  ];
};
