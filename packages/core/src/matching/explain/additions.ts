import { EQUALIZER_BANDS, numbersOfBand } from '../../parameters/effects/equalizer';
import { effectSchema } from '../../patch/schemas/effectSchema';
import { lfoSchema } from '../../patch/schemas/modulatorSchema';
import { filterSchema } from '../../patch/schemas/shapingSchema';
import type { Layer } from '../../patch/schema';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { pushGently } from './dirt';
import { type Freedom, type Hypothesis, fallingEnvelope, freedoms, route, routeId } from './hypothesis';

type Addition = (layer: Layer) => Hypothesis | undefined;

const added = (
  name: string,
  what: string,
  apply: (layer: Layer) => void,
  turned: readonly Freedom[],
  brings: readonly string[],
): Hypothesis => ({
  name,
  stage: turned[0].stage,
  confidence: 0.5,
  why: `${what}; nothing else was found that explains what was left`,
  apply,
  freedoms: turned,
  brings,
});

const drive: Addition = ({ shaper }) =>
  shaper.on
    ? undefined
    : added(
        'drive',
        'partials over what the filter leaves come from a curve behind it',
        (layer) => pushGently(layer, 'soft'),
        freedoms('shaper', 'dirt', { driveDb: 0.12 }),
        ['shaper'],
      );

const lowPass: Addition = ({ filters: [first] }) =>
  first.on
    ? undefined
    : added(
        'low-pass',
        'the highest partials are weaker than the sources make them',
        (layer) => {
          layer.filters[0] = filterSchema.parse({
            kind: 'lowpass',
            id: 'filter-1',
            cutoffHz: 3000,
            slopeDbPerOctave: 12,
          });
        },
        freedoms('filter-1', 'filter', { cutoffHz: 0.15, resonanceDb: 0.04 }),
        ['filter-1'],
      );

const highPass: Addition = ({ filters: [, second] }) =>
  second.on
    ? undefined
    : added(
        'high-pass',
        'the lowest partials are weaker than the sources make them',
        (layer) => {
          layer.filters[1] = filterSchema.parse({
            kind: 'highpass',
            id: 'filter-2',
            cutoffHz: 80,
            slopeDbPerOctave: 12,
          });
        },
        freedoms('filter-2', 'filter', { cutoffHz: 0.1 }),
        ['filter-2'],
      );

/** What a converter, a codec or a mixing desk cut off. */
const topCut: Addition = ({ effects }) =>
  effects.some(({ id }) => id === 'top-cut')
    ? undefined
    : added(
        'high cut',
        'over some frequency there is nothing at all, as where a sound was cut off',
        (layer) => {
          const bands = Array.from({ length: EQUALIZER_BANDS }, (_, i) => ({
            kind: i === 0 ? 'highCut' : 'off',
            slopeDbPerOctave: 48,
          }));
          const [hz] = numbersOfBand(0);
          const fields = { id: 'top-cut', name: 'High cut', bands, [hz]: 9000 };
          layer.effects.push(effectSchema.parse({ kind: 'equalizer', ...fields }));
        },
        freedoms('top-cut', 'filter', { [numbersOfBand(0)[0]]: 0.06 }),
        ['top-cut'],
      );

/** A level under that of the loudest source. */
const under = ({ sources }: Layer, decibels: number) =>
  Math.max(-96, Math.max(...sources.map(({ levelDb }) => levelDb)) - decibels);

const NOISE_GATE = { moduleId: 'noise', parameter: 'letThrough' };

/** Noise at the start, of which nothing says how strong it is. */
const attackNoise =
  (underDb: number): Addition =>
  ({ sources }) =>
    sources.some(({ kind }) => kind === 'noise')
      ? undefined
      : added(
          'attack noise',
          'the start is rougher than the sources make it',
          (layer) => {
            const band = { lowHz: 1000, highHz: 8000, levelDb: under(layer, underDb), letThrough: 0 };
            layer.sources.push(
              sourceSchema.parse({ kind: 'noise', id: 'noise', name: 'attack noise', into: 'past', ...band }),
            );
            route(layer, fallingEnvelope('noise-fall', 'Noise fall', 0.03), NOISE_GATE, 100);
          },
          [
            ...freedoms('noise', 'noise', { levelDb: 0.08, lowHz: 0.08, highHz: 0.08 }),
            ...freedoms('noise-fall', 'noise', { decaySeconds: 0.06 }),
          ],
          ['noise', routeId('noise-fall', NOISE_GATE)],
        );

const breath: Addition = ({ sources }) =>
  sources.some(({ kind }) => kind === 'noise')
    ? undefined
    : added(
        'breath',
        'there is something between the partials',
        (layer) => {
          const band = { lowHz: 300, highHz: 12000, levelDb: under(layer, 36) };
          layer.sources.push(sourceSchema.parse({ kind: 'noise', id: 'noise', name: 'breath', into: 'past', ...band }));
        },
        freedoms('noise', 'noise', { levelDb: 0.1, lowHz: 0.08, highHz: 0.08 }),
        ['noise'],
      );

const PITCH = { moduleId: 'layer', parameter: 'semitones' };

const pitchDrop: Addition = ({ routes }) =>
  routes.some(({ to }) => to.parameter === 'semitones')
    ? undefined
    : added(
        'pitch drop',
        'the start is higher than the note',
        (layer) => {
          route(layer, fallingEnvelope('pitch-fall', 'Pitch drop', 0.02), PITCH, 6);
        },
        [
          ...freedoms(routeId('pitch-fall', PITCH), 'pitch', { amount: 0.06 }),
          ...freedoms('pitch-fall', 'pitch', { decaySeconds: 0.05 }),
        ],
        [routeId('pitch-fall', PITCH)],
      );

const turningWidth: Addition = ({ sources, routes }) => {
  const pulse = sources.find((source) => source.kind === 'shape' && source.shape === 'pulse');
  const target = { moduleId: pulse?.id ?? '', parameter: 'pulseWidth' };
  if (!pulse || routes.some(({ to }) => to.moduleId === target.moduleId && to.parameter === target.parameter))
    return undefined;
  const id = routeId('width-round', target);
  return added(
    'pulse width going round',
    'partials come and go by turns, as those of a pulse whose width moves',
    (layer) => {
      route(
        layer,
        lfoSchema.parse({ kind: 'lfo', id: 'width-round', name: 'Width going round', rateHz: 1 }),
        target,
        20,
        'bipolar',
      );
    },
    [
      ...freedoms('width-round', 'movement', { rateHz: 0.08, startPhaseCycles: 0.25 }),
      ...freedoms(id, 'movement', { amount: 0.1 }),
    ],
    [id],
  );
};

const filterFall: Addition = ({ filters: [first], routes }) => {
  if (!first.on || routes.some(({ to }) => to.moduleId === first.id)) return undefined;
  const target = { moduleId: first.id, parameter: 'cutoffHz' };
  const id = routeId('filter-contour', target);
  return added(
    'filter fall',
    'it is brighter at the start than later',
    (layer) => {
      route(layer, fallingEnvelope('filter-contour', 'Filter fall', 0.15), target, 12);
    },
    [...freedoms(id, 'filter', { amount: 0.05 }), ...freedoms('filter-contour', 'filter', { decaySeconds: 0.06 })],
    [id],
  );
};

/** A source that falls by itself while the others stay; the softest first, which is most often the one. */
const ownFall: Addition = ({ sources, routes }) => {
  const tonal = sources.filter(({ kind, levelDb }) => kind !== 'noise' && levelDb > -90);
  if (tonal.length < 2) return undefined;
  const free = tonal.filter(({ id }) => !routes.some(({ to }) => to.moduleId === id));
  const [source] = [...free].sort((a, b) => a.levelDb - b.levelDb);
  if (!source) return undefined;
  const target = { moduleId: source.id, parameter: 'letThrough' };
  const envelopeId = `own-${source.id}`;
  const name = source.name ?? source.id;
  return added(
    `fall of the ${name}`,
    `the ${name} dies away before the rest`,
    (layer) => {
      for (const own of layer.sources) if (own.id === source.id) own.letThrough = 0;
      route(layer, fallingEnvelope(envelopeId, `Fall of the ${name}`, 0.2), target, 100);
    },
    [...freedoms(envelopeId, 'sources', { decaySeconds: 0.06 }), ...freedoms(source.id, 'sources', { levelDb: 0.05 })],
    [routeId(envelopeId, target)],
  );
};

const additions: readonly Addition[] = [
  topCut,
  lowPass,
  drive,
  ownFall,
  filterFall,
  highPass,
  attackNoise(18),
  attackNoise(6),
  breath,
  pitchDrop,
  turningWidth,
];

/** What may be tried where a patch is still far away: what the layer has not got yet. */
export const additionsTo = (layer: Layer): Hypothesis[] => additions.flatMap((addition) => addition(layer) ?? []);
