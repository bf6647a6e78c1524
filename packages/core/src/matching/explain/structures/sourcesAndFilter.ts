import type { StructureKind } from './structure';

/** Sines that move one another: sidebands that die away look as if a filter closed over them. */
export const movedSines: StructureKind = ({ isFm, sources, unfiltered }) =>
  isFm ? [{ name: 'sines that move one another', hypotheses: [...sources, ...unfiltered] }] : [];

/** All that the evidence says. */
export const sourcesAndFilter: StructureKind = ({ sources, around }) => [
  { name: 'sources and filter', hypotheses: [...sources, ...around] },
];

export const firstOf = (said: Parameters<StructureKind>[0]) => [...movedSines(said), ...sourcesAndFilter(said)][0];
