import { FILTER_FALL } from '../filter';
import { saw } from './single';
import { type StructureKind, isNot } from './structure';

/** A saw through resonances that do not follow its pitch, as a voice has them. */
export const throughResonances: StructureKind = ({ evidence, around, resonances }) => {
  if (resonances.length === 0) return [];
  const open = around.filter(isNot('low-pass', FILTER_FALL, 'filter contour', 'moving notch'));
  return [{ name: 'a saw through resonances', hypotheses: [saw(evidence), ...open, ...resonances] }];
};
