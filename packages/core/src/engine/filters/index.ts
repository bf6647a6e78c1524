import type { FilterKind } from '../../patch/schema';
import { comb } from './comb';
import type { FilterModel } from './filter';
import { formant } from './formant';
import { ladder } from './ladder';
import { allPass } from './allPass';
import { sectionFilters } from './twoPoleFilters';

/**
 * Every kind of filter. A new one is a file and a line here, besides its entry in the parameter table and the
 * schema.
 */
export const filterModels: Record<FilterKind, FilterModel> = {
  ...sectionFilters,
  ladder,
  comb,
  allPass,
  formant,
};
