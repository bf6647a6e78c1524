import { create } from 'zustand';
import type { Cut } from '@imprint/contract/api';
import type { Isolated } from '@imprint/core/reading/isolation/isolate';
import type { Overlay } from '../workers/media.worker';
import { useTransport } from './transportStore';

/** What of a cut is listened to. */
export type Heard = 'whole' | 'kept' | 'leftOut';

interface IsolationState {
  /** What the isolation of a cut made of it, once it was worked out. */
  isolated: (Isolated & { cutId: string }) | null;
  heard: Heard;
}

export const useIsolation = create<IsolationState>(() => ({ isolated: null, heard: 'whole' }));

/** What is heard and shown in place of the cut; null for the cut as it is. */
export function heardOverlay(cut: Cut | null): Overlay | null {
  const { isolated, heard } = useIsolation.getState();
  if (!cut || !isolated || isolated.cutId !== cut.id || heard === 'whole') return null;
  return { startSeconds: cut.fromSeconds, audio: heard === 'kept' ? isolated.kept : isolated.leftOut };
}

/** Sets what is heard of the chosen cut. */
export function hear(cut: Cut | null, heard: Heard): void {
  useIsolation.setState({ heard });
  const overlay = heardOverlay(cut);
  useTransport.getState().deck?.setOverlay(overlay?.startSeconds ?? 0, overlay?.audio ?? null);
}

export function forgetIsolated(cut: Cut | null): void {
  useIsolation.setState({ isolated: null });
  hear(cut, 'whole');
}
