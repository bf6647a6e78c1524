import type { BandlimitedTable } from '@imprint/core/engine/bandlimitedTable';
import type { PreparedSample } from '@imprint/core/engine/preparedSample';
import { gatherResources, resourcesWanted } from '@imprint/core/engine/resources';
import { phraseOf } from '@imprint/core/matching/phrase';
import { auditionedPatch } from '@imprint/core/patch/audition';
import type { Patch } from '@imprint/core/patch/schema';
import { toast } from 'sonner';
import { useAudition } from '../stores/auditionStore';
import { usePatchStore } from '../stores/patchStore';
import { printPatch, savePatch } from '../stores/proofs';
import { cutOf, readingOf, useStudyStore } from '../stores/studyStore';
import { toneApi } from '../stores/threads';
import { useTransport } from '../stores/transportStore';

const SAVE_AFTER_MS = 1200;
const PRINT_AFTER_MS = 350;

/**
 * What follows from what: a changed patch goes to the deck at once, is printed when the hand rests and saved a little later; a
 * new reading or cut gives the deck its phrase. Returns what undoes it.
 */
export function connectStores(): () => void {
  const save = afterRest(SAVE_AFTER_MS, () =>
    savePatch().catch((error: Error) => toast.error(`Not saved: ${error.message}`)),
  );
  const print = afterRest(PRINT_AFTER_MS, () => printPatch());
  const disconnect = [
    usePatchStore.subscribe(({ patch }, { patch: before }) => {
      if (patch === before || !patch) return;
      void sendPatch(patch);
      print();
      if (before && useStudyStore.getState().status === 'ready') markUnsaved();
      else if (useStudyStore.getState().status === 'ready' && !useStudyStore.getState().revision) markUnsaved();
    }),
    useStudyStore.subscribe((state, before) => {
      if (readingOf(state) !== readingOf(before) || cutOf(state) !== cutOf(before)) {
        sendPhrase();
        print();
      }
    }),
    useAudition.subscribe(() => {
      const { patch } = usePatchStore.getState();
      if (patch) void sendPatch(patch);
    }),
    useTransport.subscribe(({ deck }, { deck: before }) => {
      const { patch } = usePatchStore.getState();
      if (deck && deck !== before && patch) void sendPatch(patch);
    }),
  ];
  return () => disconnect.forEach((stop) => stop());

  function markUnsaved(): void {
    useStudyStore.setState({ unsaved: true });
    save();
  }
}

function sendPhrase(): void {
  const state = useStudyStore.getState();
  const cut = cutOf(state);
  const reading = readingOf(state);
  const notes = cut && reading ? phraseOf(reading) : [];
  useTransport.getState().deck?.setPhrase(cut?.fromSeconds ?? 0, cut?.toSeconds ?? 0, notes);
}

/** Tables and samples by what they are made of, so that moving a ruler does not make them anew. */
const resources = new Map<string, Promise<BandlimitedTable | PreparedSample>>();
const KEPT_RESOURCES = 24;
let newest = 0;

/** Gives the deck the patch as it is to be heard: with what is soloed or exaggerated. */
async function sendPatch(patch: Patch): Promise<void> {
  const turn = ++newest;
  const heard = auditionedPatch(patch, useAudition.getState());
  const ready = await Promise.all(
    resourcesWanted(heard).map(async (request) => {
      const { kind, content } = request;
      const key = `${kind} ${content}`;
      let resource = resources.get(key);
      if (!resource) resources.set(key, (resource = Promise.resolve(toneApi().prepare(request))));
      return [request, await resource] as const;
    }),
  );
  while (resources.size > KEPT_RESOURCES) resources.delete(resources.keys().next().value!);
  if (turn === newest) useTransport.getState().deck?.setPatch(heard, gatherResources(ready));
}

function afterRest(milliseconds: number, action: () => unknown): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  return () => {
    clearTimeout(timer);
    timer = setTimeout(action, milliseconds);
  };
}
