import { bend } from '../dirt';
import { FILTER_FALL } from '../filter';
import { type Evidence, type Hypothesis, fallingEnvelope, freedoms, route, routeId } from '../hypothesis';
import { AMP_CONTOUR, levelHypothesis } from '../level';
import { sine } from './single';
import type { StructureKind } from './structure';

/** A level that falls by so much drives less and less into a curve. */
const FALLS_DB = 3;

/** A sine whose partials a curve makes, seen or thought of. */
export const sineIntoCurve: StructureKind = ({ evidence, around, curves, unbent }) =>
  (curves.length > 0 ? [curves] : possibleCurves(around, evidence)).map((curve) => ({
    name: 'a sine into a curve',
    hypotheses: [sine(evidence), ...pushed(curve, unbent, evidence)],
  }));

/** Curves that were not seen, but may be there: the softer the tone is, the plainer, as under a filter. */
function possibleCurves(around: readonly Hypothesis[], { note }: Evidence): Hypothesis[][] {
  const { sustainDb } = note.reading.traits.loudness;
  const falls = sustainDb !== null && sustainDb < -FALLS_DB && around.some(({ name }) => name === FILTER_FALL);
  if (!falls) return [];
  const why = 'partials go with the level, as those that a curve makes';
  return [[bend('soft', 0.5, why)], [bend('fold', 0.5, why)]];
}

/** What is behind a curve, and the fall before it where there is one: behind it the level then stays. */
function pushed(curve: readonly Hypothesis[], around: readonly Hypothesis[], evidence: Evidence): Hypothesis[] {
  const before = push(evidence);
  if (before.length === 0) return [...curve, ...around];
  const { fitted, fundamental } = evidence.note;
  const even = levelHypothesis({ ...fitted, holdSeconds: 0, decaySeconds: 0, sustainDb: 0 }, fundamental);
  return [...before, ...curve, ...around.map((hypothesis) => (hypothesis.name === AMP_CONTOUR ? even : hypothesis))];
}

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
