import { create } from 'zustand';
import type { WantedEvidence } from '@imprint/core/reading/evidence';
import { keptOf } from './cuts';
import { heardOverlay } from './isolationStore';
import { cutOf, readingOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { transport, useTransport } from './transportStore';
import { doWork } from './work';

interface EvidenceState {
  /** What is heard in place of the cut. */
  heard: WantedEvidence | null;
}

export const useEvidence = create<EvidenceState>(() => ({ heard: null }));

export const isSame = (a: WantedEvidence | null, b: WantedEvidence) =>
  a !== null && a.kind === b.kind && a.partial === b.partial;

/** Plays a part of the chosen cut alone, round and round; a second time ends it. */
export async function hearEvidence(wanted: WantedEvidence): Promise<void> {
  if (isSame(useEvidence.getState().heard, wanted)) {
    endEvidence();
    return;
  }
  const cut = cutOf(useStudyStore.getState());
  const reading = readingOf(useStudyStore.getState());
  if (!cut || !reading) return;
  const audio = await doWork('Making it to hear', async (report) =>
    toneApi().evidence(await keptOf(cut, report), reading, wanted),
  );
  const { deck, looping, playing } = useTransport.getState();
  if (!audio || !deck || useStudyStore.getState().cutId !== cut.id) return;
  deck.setOverlay(cut.fromSeconds, audio);
  useEvidence.setState({ heard: wanted });
  transport.setSide('reference');
  if (!playing) transport.play(looping ? undefined : cut.fromSeconds);
}

/** Lets the cut be heard again as it was before. */
export function endEvidence(): void {
  if (!useEvidence.getState().heard) return;
  useEvidence.setState({ heard: null });
  transport.stop();
  const overlay = heardOverlay(cutOf(useStudyStore.getState()));
  useTransport.getState().deck?.setOverlay(overlay?.startSeconds ?? 0, overlay?.audio ?? null);
}
