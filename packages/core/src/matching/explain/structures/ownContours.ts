import { FILTER_FALL } from '../filter';
import { AMP_CONTOUR } from '../level';
import { explainOwnContours } from '../ownContours';
import { type StructureKind, is, isNot } from './structure';

/** Sources of which some die away or come up by themselves. */
export const ownContours: StructureKind = ({ evidence, isFm, around, unfiltered }) => {
  const own = isFm ? [] : explainOwnContours(evidence);
  if (own.length === 0) return [];
  // What dies away by itself is brighter or duller than the rest: a filter that moves would say it twice.
  const falls = around.some(is(FILTER_FALL, 'filter contour'));
  const rest = (falls ? unfiltered : around).filter(isNot(AMP_CONTOUR));
  return [{ name: 'sources with contours of their own', hypotheses: [...own, ...rest] }];
};
