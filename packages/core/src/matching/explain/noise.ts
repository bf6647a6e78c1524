import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { decibelsFromPower } from '../../dsp/decibels';
import { type NoiseBand, TOP_HZ, noiseBand } from './noiseBand';
import { type Explainer, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';

/** Noise to either side of where its centre of gravity was found, as a ratio. */
const BAND_RATIO = 3;
const FIRST_SECONDS = 0.03;
const AFTER_ATTACK_SECONDS = 0.05;
/** A noise source at 0 dB has so much less power than the first partial of a saw or a sine at 0 dB. */
const NARROW_DB = 7;

/** Power of all partials against that of the first. */
const overFirstDb = (levelsDb: readonly number[]): number =>
  decibelsFromPower(levelsDb.reduce((sum, level) => sum + 10 ** ((level - levelsDb[0]) / 10), 0));

/** A band is cut out of noise over the whole width. */
const narrowedDb = ({ lowHz, highHz }: NoiseBand): number => -decibelsFromPower((highHz - lowHz) / TOP_HZ);

/** Noise beside the partials, throughout or at the start only. */
export const explainNoise: Explainer = ({ note }) => {
  const { noise } = note.reading.traits;
  const { levelDb, centroidHz, attackOnly } = noise;
  if (levelDb === null) return [];
  const centre = Math.min(TOP_HZ, centroidHz ?? 3000);
  const around = {
    lowHz: Math.max(20, Math.round(centre / BAND_RATIO)),
    highHz: Math.min(TOP_HZ, Math.round(centre * BAND_RATIO)),
    slopeDbPerOctave: 0,
  };
  const { onsetSeconds, attackSeconds } = note.fitted;
  const start = onsetSeconds + attackSeconds + AFTER_ATTACK_SECONDS;
  const seen = attackOnly || !note.partials ? undefined : noiseBand(note.partials, start, note.reading.durationSeconds);
  const band = seen ?? around;
  const sourceDb = levelDb + NARROW_DB + overFirstDb(note.reading.traits.partials.levelsDb) + narrowedDb(band);
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
            levelDb: Math.max(-60, Math.min(0, Math.round(10 * sourceDb) / 10)),
            ...band,
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
