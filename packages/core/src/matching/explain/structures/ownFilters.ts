import { explainOwnFilters } from '../ownFilters';
import type { StructureKind } from './structure';

/** Sources behind a filter each. */
export const ownFilters: StructureKind = ({ evidence, isFm, unfiltered }) =>
  (isFm ? [] : explainOwnFilters(evidence)).map((own) => ({
    name: 'sources behind a filter each',
    hypotheses: [...own, ...unfiltered],
  }));
