import { FILTER_FALL } from '../filter';
import { explainSync } from '../sync';
import { type StructureKind, isNot } from './structure';

/** A saw that begins anew with every period: what moves in it looks as if a filter or resonances did. */
export const syncedSaw: StructureKind = ({ evidence, around }) => {
  const open = around.filter(isNot('low-pass', FILTER_FALL, 'filter contour', 'moving notch'));
  const sync = explainSync(evidence);
  return sync.length === 0 ? [] : [{ name: 'a synced saw', hypotheses: [...sync, ...open] }];
};
