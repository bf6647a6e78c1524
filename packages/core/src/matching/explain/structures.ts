import { explain } from '.';
import { sourceSchema } from '../../patch/sourceSchema';
import { type Evidence, type Hypothesis, fallingEnvelope, freedoms, route, routeId } from './hypothesis';
import { offsetCents } from './sources';

/** One way to explain a tone as a whole. */
export interface Structure {
  name: string;
  hypotheses: Hypothesis[];
}

/** Less sure evidence is not built in. */
const SURE = 0.25;
/** A level that falls by so much drives less and less into a curve. */
const FALLS_DB = 3;

/**
 * Ways to explain the tone that exclude one another: partials are those of sources behind a filter, or a
 * curve or resonances made them of something plainer.
 */
export function structuresOf(evidence: Evidence): Structure[] {
  const all = explain(evidence).filter(({ confidence, brings }) => confidence >= SURE || brings.length === 0);
  const is =
    (...names: readonly string[]) =>
    (hypothesis: Hypothesis) =>
      names.includes(hypothesis.name);
  const structures: Structure[] = [{ name: 'sources and filter', hypotheses: all }];
  const isSource = ({ stage, name }: Hypothesis) =>
    stage === 'sources' && name !== 'ring tone' && name !== 'fast level';
  const around = all.filter((hypothesis) => !isSource(hypothesis));
  const sources = all.filter(isSource);
  if (around.some(is('drive', 'fold'))) {
    const plain = around.filter(({ stage }) => stage !== 'filter');
    structures.push({ name: 'a sine into a curve', hypotheses: [sine(evidence), ...push(evidence), ...plain] });
  }
  if (around.some(is('formants'))) {
    const open = around.filter(
      (hypothesis) => !is('low-pass', 'filter fall', 'filter contour', 'moving notch')(hypothesis),
    );
    structures.push({ name: 'a saw through resonances', hypotheses: [saw(evidence), ...open] });
  }
  if (sources.length > 1) structures.push({ name: 'one source', hypotheses: [saw(evidence), ...around] });
  return structures;
}

const single = (shape: 'sine' | 'saw', { note, midi }: Evidence): Hypothesis => ({
  name: shape,
  stage: 'sources',
  confidence: 0.5,
  why: `one ${shape} says as much`,
  apply: (layer) => {
    const { unison, pitch } = note.reading.traits;
    const spread =
      shape === 'saw' && unison.detuneCents !== null
        ? {
            unisonVoices: Math.max(2, unison.voices ?? 2),
            unisonDetuneCents: unison.detuneCents,
            startPhaseRandom: 100,
          }
        : {};
    const cents = Math.round(10 * offsetCents(pitch, midi)) / 10;
    layer.sources.push(sourceSchema.parse({ kind: 'shape', id: 'source-1', name: shape, shape, cents, ...spread }));
  },
  freedoms: [],
  brings: [],
});

const sine = (evidence: Evidence) => single('sine', evidence);
const saw = (evidence: Evidence) => single('saw', evidence);

/** The level falls before the curve, which then bends less: told by partials that grow with the level. */
function push({ note }: Evidence): Hypothesis[] {
  const { sustainDb, decaySeconds } = note.reading.traits.loudness;
  if (sustainDb === null || decaySeconds === null || sustainDb > -FALLS_DB) return [];
  const target = { moduleId: 'source-1', parameter: 'levelDb' };
  const id = routeId('push', target);
  const fallDb = Math.min(40, -sustainDb);
  return [
    {
      name: 'push',
      stage: 'dirt',
      confidence: 0.5,
      why: 'the tone grows plainer as it gets softer: its level falls before the curve',
      apply: (layer) => {
        const [source] = layer.sources;
        source.levelDb = -fallDb;
        const envelope = { ...fallingEnvelope('push', 'Push', decaySeconds), decayCurve: 0 };
        route(layer, envelope, target, fallDb);
      },
      freedoms: [...freedoms(id, 'dirt', { amount: 0.06 }), ...freedoms('push', 'dirt', { decaySeconds: 0.05 })],
      brings: [id],
    },
  ];
}
