import { explainDrawnPartials } from '../drawnPartials';
import { AMP_CONTOUR } from '../level';
import { explainModes } from '../modes';
import { type StructureKind, isNot } from './structure';

/** Partials whose levels are set one by one. */
export const drawnOneByOne: StructureKind = ({ evidence, isFm, unbent }) => {
  const drawn = isFm ? [] : explainDrawnPartials(evidence);
  return drawn.length > 0 ? [{ name: 'partials one by one', hypotheses: [...drawn, ...unbent] }] : [];
};

/** A body that was struck. */
export const dyingOneByOne: StructureKind = ({ evidence, isFm, unbent }) => {
  const modes = isFm ? [] : explainModes(evidence);
  if (modes.length === 0) return [];
  // Their level stays, and steady noise would stay with it.
  const others = unbent.filter(isNot(AMP_CONTOUR, 'noise'));
  return [{ name: 'sines that die away one by one', hypotheses: [...modes, ...others] }];
};
