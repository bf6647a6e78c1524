import { modulesOf } from '../../patch/modules';
import type { Patch } from '../../patch/schema';
import type { Freedom } from '../explain/hypothesis';
import { copied } from './parameterSpace';

/** The patch as it is, and with each number that the evidence does not tell wherever that may begin. */
export const beginningsOf = (patch: Patch, freedoms: readonly Freedom[]): Patch[] => [
  patch,
  ...freedoms.flatMap(({ moduleId, parameter, startsAt = [] }) =>
    startsAt.flatMap((value) => {
      const begun = copied(patch);
      const module = modulesOf(begun.layers[0]).find(({ id }) => id === moduleId);
      if (!module) return [];
      (module.values as Record<string, number>)[parameter] = value;
      return [begun];
    }),
  ),
];
