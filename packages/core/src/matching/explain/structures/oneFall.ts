import { AMP_CONTOUR, explainOneFall } from '../level';
import { firstOf } from './sourcesAndFilter';
import { type StructureKind, isNot } from './structure';

/** The level as one fall, whatever was taken for its end. */
export const oneFall: StructureKind = (said) => {
  const fall = explainOneFall(said.evidence);
  if (fall.length === 0) return [];
  return [{ name: 'one fall', hypotheses: [...firstOf(said).hypotheses.filter(isNot(AMP_CONTOUR)), ...fall] }];
};
