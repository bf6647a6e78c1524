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

/** Distance of one trait in just-noticeable differences. */
export type Gap = z.infer<typeof gapSchema>;

/** Distances of traits between two readings made by the same reader, largest first. */
export function gapsBetween(reference: Reading, proof: Reading): Gap[] {
  const gaps = everyComparison.flatMap(({ trait, group, label, unit, value: valueOf, distance }): Gap[] => {
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
  return gaps.sort((a, b) => b.gapJnd - a.gapJnd);
}
