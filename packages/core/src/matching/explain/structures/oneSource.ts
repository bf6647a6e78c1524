import { saw } from './single';
import { type StructureKind, is } from './structure';

/** What a resonance lifts looks like a source of its own. */
export const oneSource: StructureKind = ({ evidence, sources, around }) => {
  if (sources.length < 2) return [];
  const main = sources.find(is('saw', 'square', 'pulse', 'triangle'));
  const alone = main ? { ...main, brings: [] } : saw(evidence);
  return [{ name: 'one source', hypotheses: [alone, ...around] }];
};
