import { create } from 'zustand';
import { type Stage, stages } from '@imprint/core/matching/explain/hypothesis';
import type { Structure } from '@imprint/core/matching/structure';
import { QUICK_SECONDS } from '../../stores/runs';

interface Scope {
  structure: Structure;
  budgetSeconds: number;
  startsFromPatch: boolean;
  /** Stages whose numbers may be turned. */
  free: readonly Stage[];
  /** Further cuts of the same tone. */
  otherCutIds: readonly string[];
}

/** What the next match is to do; as it was set last, as long as the page is open. */
export const useScope = create<Scope>(() => ({
  structure: 'any',
  budgetSeconds: QUICK_SECONDS,
  startsFromPatch: false,
  free: stages,
  otherCutIds: [],
}));

/** A value taken into a list or out of it. */
export const toggled = <T>(list: readonly T[], value: T): T[] =>
  list.includes(value) ? list.filter((other) => other !== value) : [...list, value];
