import { type Curve, bend } from '../dirt';
import type { Evidence, Hypothesis } from '../hypothesis';
import { AMP_CONTOUR, levelHypothesis } from '../level';
import { type Push, explainPush } from '../push';
import { sine } from './single';
import type { StructureKind } from './structure';

/** A level that falls by so much drives less and less into a curve. */
const FALLS_DB = 3;
/** A level behind a curve that falls so much more slowly takes no part in the end. */
const OUTLASTING = 4;

/** A sine whose partials a curve makes, seen or thought of. */
export const sineIntoCurve: StructureKind = ({ evidence, curves, unbent }) => {
  const { kind } = evidence.note.reading.traits.dirt;
  const seen = kind === 'soft' || kind === 'hard' || kind === 'fold' ? kind : undefined;
  const kinds = curves.length > 0 && seen ? [{ kind: seen, curve: curves }] : possibleCurves(evidence);
  return kinds.flatMap(({ kind: of, curve }) => {
    const push = explainPush(evidence, of);
    if (!push) return [];
    const hypotheses = [sine(evidence), ...curve, push.hypothesis, ...behind(push, unbent, evidence)];
    return [{ name: 'a sine into a curve', hypotheses }];
  });
};

/** Curves that were not seen, but may be there: the softer the tone is, the plainer, as under a filter. */
function possibleCurves({ note }: Evidence): { kind: Curve; curve: Hypothesis[] }[] {
  const { sustainDb } = note.reading.traits.loudness;
  const falls = sustainDb !== null && sustainDb < -FALLS_DB;
  if (!falls) return [];
  const why = 'partials go with the level, as those that a curve makes';
  return (['soft', 'fold'] as const).map((kind) => ({ kind, curve: [bend(kind, 0.5, why)] }));
}

/** What is behind a curve: where the level falls before it, it stays behind it. */
function behind(
  { hypothesis: { brings }, releaseSeconds }: Push,
  around: readonly Hypothesis[],
  { note: { fitted, fundamental } }: Evidence,
): readonly Hypothesis[] {
  if (brings.length === 0) return around;
  const still = { ...fitted, holdSeconds: 0, decaySeconds: 0, sustainDb: 0 };
  const lasting = releaseSeconds === null ? still : { ...still, releaseSeconds: OUTLASTING * releaseSeconds };
  const even = levelHypothesis(lasting, fundamental);
  return around.map((hypothesis) => (hypothesis.name === AMP_CONTOUR ? even : hypothesis));
}
