import { explain } from '..';
import type { Evidence } from '../hypothesis';
import { fitting } from '../made';
import { drawnOneByOne, dyingOneByOne } from './oneByOne';
import { oneFall } from './oneFall';
import { oneSine } from './oneSine';
import { oneSource } from './oneSource';
import { ownContours } from './ownContours';
import { ownFilters } from './ownFilters';
import { resonanceIntoCurve } from './resonanceIntoCurve';
import { sineIntoCurve } from './sineIntoCurve';
import { movedSines, sourcesAndFilter } from './sourcesAndFilter';
import { type Structure, type StructureKind, sorted } from './structure';
import { syncedSaw } from './syncedSaw';
import { throughResonances } from './throughResonances';
import { tunedNoise } from './tunedNoise';
import { wholeRatio } from './wholeRatio';

/** Less sure evidence is not built in. */
const SURE = 0.25;

/** The likeliest first, which the others stand beside where something is set by hand. */
const kinds: readonly StructureKind[] = [
  movedSines,
  sourcesAndFilter,
  ownContours,
  ownFilters,
  sineIntoCurve,
  resonanceIntoCurve,
  throughResonances,
  syncedSaw,
  oneSine,
  tunedNoise,
  wholeRatio,
  oneSource,
  drawnOneByOne,
  dyingOneByOne,
  oneFall,
];

/**
 * Ways to explain the tone that exclude one another: partials are those of sources behind a filter, or a
 * curve or resonances made them of something plainer.
 */
export function structuresOf(evidence: Evidence): Structure[] {
  const sure = explain(evidence).filter(({ confidence, brings }) => confidence >= SURE || brings.length === 0);
  const said = sorted(evidence, sure);
  return kinds.flatMap((kind) => kind(said)).map(({ name, hypotheses }) => ({ name, hypotheses: fitting(hypotheses) }));
}
