import type { BandlimitedTable } from '@imprint/core/engine/tables/bandlimitedTable';
import type { PreparedSample } from '@imprint/core/engine/program/preparedSample';
import { type ResourceRequest, gatherResources, resourcesWanted } from '@imprint/core/engine/program/resources';
import { phraseOf } from '@imprint/core/matching/phrase';
import { auditionedPatch } from '@imprint/core/patch/edits/audition';
import type { Patch } from '@imprint/core/patch/schema';
import { outbox, sendFirstLeftovers, sendOnLeaving } from '../keeping/keeping';
import { useSaving } from '../keeping/savingStore';
import { useAudition } from '../stores/auditionStore';
import { followTempo, usePatchStore } from '../stores/patchStore';
import { followCuts } from '../stores/cuts';
import { endHearing, useHeardCandidate } from '../stores/heardCandidate';
import { followStudy } from '../stores/opening';
import { followSavings, isArriving, keepPatch } from '../stores/patchSaving';
import { printPatch } from '../stores/proofs';
import { cutOf, messageOf, readingOf, trackBpmOf, useStudyStore } from '../stores/studyStore';
import { toneApi } from '../stores/threads';
import { useTransport } from '../stores/transportStore';
import { EndedError } from '../workers/workers';

const SAVE_AFTER_MS = 1200;
const PRINT_AFTER_MS = 350;

/**
 * What follows from what: a changed patch goes to the deck at once, is printed when the hand rests and saved
 * a little later; a new reading or cut gives the deck its phrase. Returns what undoes it.
 */
export function connectStores(): () => void {
  const save = afterRest(SAVE_AFTER_MS, () => void outbox.flush());
  const print = afterRest(PRINT_AFTER_MS, () => printPatch());
  const disconnect = [
    usePatchStore.subscribe(({ patch }, { patch: before }) => {
      if (patch === before || !patch) return;
      endHearing();
      void sendPatch(patch);
      print();
      const { status, revision } = useStudyStore.getState();
      if (status !== 'ready' || isArriving() || (!before && revision)) return;
      // In this browser at once; on the server when the hand rests.
      keepPatch().catch((error: unknown) => useSaving.setState({ state: 'refused', reason: messageOf(error) }));
      save();
    }),
    usePatchStore.subscribe(() => followTempo(trackBpmOf(useStudyStore.getState()))),
    useStudyStore.subscribe((state, before) => {
      if (trackBpmOf(state) !== trackBpmOf(before)) followTempo(trackBpmOf(state));
      if (readingOf(state) !== readingOf(before) || cutOf(state) !== cutOf(before)) {
        sendPhrase();
        print();
      }
    }),
    useAudition.subscribe(() => {
      const { patch } = usePatchStore.getState();
      if (patch) void sendPatch(patch);
    }),
    useHeardCandidate.subscribe(({ heard }) => {
      const patch = heard?.patch ?? usePatchStore.getState().patch;
      if (patch) void sendPatch(patch);
      sendPhrase();
    }),
    useTransport.subscribe(({ deck }, { deck: before }) => {
      const { patch } = usePatchStore.getState();
      if (deck && deck !== before && patch) void sendPatch(patch);
    }),
    followSavings(),
    followCuts(),
    followStudy(),
    sendOnLeaving(),
  ];
  void sendFirstLeftovers();
  return () => disconnect.forEach((stop) => stop());
}

/** Gives the deck the notes of the cut: as they were read, or as a candidate that is heard was made for. */
function sendPhrase(): void {
  const state = useStudyStore.getState();
  const { heard } = useHeardCandidate.getState();
  const cut = heard ? state.cuts.find(({ id }) => id === heard.cutId) : cutOf(state);
  const reading = readingOf(state);
  const notes = heard?.notes ?? (cut && reading ? phraseOf(reading) : []);
  useTransport.getState().deck?.setPhrase(cut?.fromSeconds ?? 0, cut?.toSeconds ?? 0, notes);
}

/** Tables and samples by what they are made of, so that moving a ruler does not make them anew. */
const resources = new Map<string, Promise<BandlimitedTable | PreparedSample>>();
const KEPT_RESOURCES = 24;
let newest = 0;

/**
 * What a patch plays, made ready; what could not be made is forgotten, so that it is made when it is next
 * asked for.
 */
function resourceOf(request: ResourceRequest): Promise<BandlimitedTable | PreparedSample> {
  const key = `${request.kind} ${request.content}`;
  const known = resources.get(key);
  if (known) return known;
  const made = Promise.resolve(toneApi().prepare(request));
  resources.set(key, made);
  made.catch(() => resources.get(key) === made && resources.delete(key));
  return made;
}

/** Gives the deck a patch as it is to be heard: with what is soloed or exaggerated. */
async function sendPatch(patch: Patch): Promise<void> {
  const turn = ++newest;
  const heard = auditionedPatch(patch, useAudition.getState());
  try {
    const ready = await Promise.all(
      resourcesWanted(heard).map(async (request) => [request, await resourceOf(request)] as const),
    );
    while (resources.size > KEPT_RESOURCES) resources.delete(resources.keys().next().value!);
    if (turn === newest) useTransport.getState().deck?.setPatch(heard, gatherResources(ready));
  } catch (error) {
    if (turn !== newest) return;
    // A reading was cancelled, and the thread that made this ended with it; the next one makes it.
    if (error instanceof EndedError) {
      if (useStudyStore.getState().status === 'ready') await sendPatch(patch);
    } else useStudyStore.setState({ workFailure: messageOf(error) });
  }
}

function afterRest(milliseconds: number, action: () => unknown): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  return () => {
    clearTimeout(timer);
    timer = setTimeout(action, milliseconds);
  };
}
