import { z } from 'zod';
import type { Reading } from '../reading/schema';
import { everyComparison } from './compared';

export const gapSchema = z.object({
  trait: z.string(),
  group: z.string(),
  label: z.string(),
  reference: z.number().nullable(),
  proof: z.number().nullable(),
  unit: z.string(),
  gapJnd: z.number().min(0),
});

export const comparisonSchema = z.object({ overallJnd: z.number().min(0), traits: z.array(gapSchema) });

/** Distance of one trait in just-noticeable differences. */
export type Gap = z.infer<typeof gapSchema>;
export type Comparison = z.infer<typeof comparisonSchema>;

/**
 * A single trait counts for at most this much in the overall figure, so that one broken reading does not
 * drown the rest.
 */
const OVERALL_LIMIT_JND = 12;

/** Distances between two readings made by the same reader, largest first, and their root mean square. */
export function compareReadings(reference: Reading, proof: Reading): Comparison {
  const traits = everyComparison.flatMap(({ trait, group, label, unit, value: valueOf, distance }): Gap[] => {
    const gapJnd = distance(reference, proof);
    if (gapJnd === undefined || !Number.isFinite(gapJnd)) return [];
    return [
      {
        trait,
        group,
        label,
        unit,
        reference: valueOf(reference),
        proof: valueOf(proof),
        gapJnd: Math.round(gapJnd * 1000) / 1000,
      },
    ];
  });
  traits.sort((a, b) => b.gapJnd - a.gapJnd);
  const squares = traits.reduce((sum, { gapJnd }) => sum + Math.min(OVERALL_LIMIT_JND, gapJnd) ** 2, 0);
  return { overallJnd: traits.length > 0 ? Math.round(Math.sqrt(squares / traits.length) * 1000) / 1000 : 0, traits };
}
