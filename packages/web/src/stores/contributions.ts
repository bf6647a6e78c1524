import { create } from 'zustand';
import { type Contribution, NOTHING_JND } from '@imprint/core/matching/contributions';
import { phraseOf } from '@imprint/core/matching/phrase';
import type { Patch } from '@imprint/core/patch/schema';
import { takeOut } from '@imprint/core/patch/edits/takeOut';
import { progress } from '../workers/workers';
import { isolatedOf } from './cuts';
import { usePatchStore } from './patchStore';
import { cutOf, readingOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { doWork } from './work';

/** What each part of a patch contributes over a cut. */
export const useContributions = create<{
  found: { patch: Patch; cutId: string; contributions: Contribution[] } | null;
}>(() => ({ found: null }));

/** Prints the patch without each of its parts in turn. */
export async function weighParts(): Promise<void> {
  const cut = cutOf(useStudyStore.getState());
  const reading = readingOf(useStudyStore.getState());
  const { patch } = usePatchStore.getState();
  if (!cut || !reading || !patch) return;
  const contributions = await doWork('Printing the patch without each part', async (report) =>
    toneApi().contributions(
      patch,
      phraseOf(reading),
      { ...(await isolatedOf(cut, () => {})), reading },
      progress(report),
    ),
  );
  if (contributions) useContributions.setState({ found: { patch, cutId: cut.id, contributions } });
}

export const contributesNothing = ({ worthJnd }: Contribution) => worthJnd < NOTHING_JND;

/** Takes parts out of the patch; one step to undo. */
export function takeOutParts(parts: readonly Contribution[]): void {
  usePatchStore.getState().edit((patch) => parts.reduce(takeOut, patch));
}
