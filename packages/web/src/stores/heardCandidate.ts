import { create } from 'zustand';
import type { PhraseNote } from '@imprint/core/engine/render';
import type { Patch } from '@imprint/core/patch/schema';
import { transport, useTransport } from './transportStore';

/** A patch that is heard in place of the study's: of a run, with the notes of its cut. */
export interface HeardCandidate {
  id: string;
  cutId: string;
  patch: Patch;
  notes: PhraseNote[];
}

/** What is listened to in place of the patch. It is never saved. */
export const useHeardCandidate = create<{ heard: HeardCandidate | null }>(() => ({ heard: null }));

const { getState, setState } = useHeardCandidate;

/** Lets a candidate be heard on the side of the patch; it is as loud as its cut by itself. */
export function hearCandidate(heard: HeardCandidate, plays: boolean): void {
  setState({ heard });
  transport.setAsLoud(true);
  transport.setSide('patch');
  if (plays && !useTransport.getState().playing) transport.play();
}

/** Lets the study's own patch be heard again. */
export function endHearing(): void {
  if (!getState().heard) return;
  setState({ heard: null });
  transport.setAsLoud(false);
}
