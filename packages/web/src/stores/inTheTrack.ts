import { create } from 'zustand';
import type { Audio } from '@imprint/core/reading/audio';
import { keptOf } from './cuts';
import { heardOverlay, useIsolation } from './isolationStore';
import { cutOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { transport, useTransport } from './transportStore';
import { doWork } from './work';

/** Whether the tone is heard where it belongs, and which: the track as it is, or the patch in its place. */
export const useInTheTrack = create<{ heard: 'track' | 'patch' | null; mix: Audio | null }>(() => ({
  heard: null,
  mix: null,
}));

const { getState, setState } = useInTheTrack;

/** Begins to play the track around the cut with the patch in it. */
export async function hearInTheTrack(): Promise<void> {
  const cut = cutOf(useStudyStore.getState());
  const { proof } = useStudyStore.getState();
  if (!cut?.isolation || !proof) return;
  const mix = await doWork('Putting the patch into the track', async (report) => {
    const kept = await keptOf(cut, report);
    const { isolated } = useIsolation.getState();
    return isolated && toneApi().inTheTrack(kept, isolated.leftOut, proof.audio);
  });
  if (!mix || cutOf(useStudyStore.getState()) !== cut) return;
  setState({ mix });
  hearSide('patch');
  if (!useTransport.getState().playing) transport.play();
}

/** Changes over at the same place. Both are laid over the reference, so nothing else changes. */
export function hearSide(heard: 'track' | 'patch'): void {
  const cut = cutOf(useStudyStore.getState());
  const { mix } = getState();
  if (!cut || !mix) return;
  useTransport.getState().deck?.setOverlay(cut.fromSeconds, heard === 'patch' ? mix : null);
  transport.setSide('reference');
  setState({ heard });
}

/** Lets the cut be heard again as it was before. */
export function leaveTheTrack(): void {
  if (getState().heard === null) return;
  setState({ heard: null, mix: null });
  transport.stop();
  const overlay = heardOverlay(cutOf(useStudyStore.getState()));
  useTransport.getState().deck?.setOverlay(overlay?.startSeconds ?? 0, overlay?.audio ?? null);
}
