import { create } from 'zustand';
import { type NewRun, type Run, type RunCandidate, type RunEvent, runEventSchema } from '@imprint/contract/runs';
import { type PatchPart, adoptPart } from '@imprint/core/patch/edits/adoptPart';
import { heldLocks } from '@imprint/core/patch/edits/locks';
import type { Patch } from '@imprint/core/patch/schema';
import { atTrackTempo } from '@imprint/core/patch/tempo';
import { client } from '../api/client';
import { packed, sendContents, unpacked } from '../keeping/contents';
import { outbox } from '../keeping/keeping';
import { keepReading } from './cuts';
import { endHearing, hearCandidate } from './heardCandidate';
import { takeTheirs } from './patchSaving';
import { usePatchStore } from './patchStore';
import { cutOf, messageOf, trackBpmOf, useStudyStore } from './studyStore';

interface RunsState {
  /** Of the open study, the newest first; null until they are known. */
  runs: Run[] | null;
  /** Runs that the workers can take at once; null until it is known. */
  slots: number | null;
  /** The run that is looked at; the newest one where none was chosen. */
  chosenId: string | null;
  /** The run that was begun here last: what it finds is played. */
  awaitedId: string | null;
  /** Why none could be begun. */
  failure: string | null;
}

const nothing: RunsState = { runs: null, slots: null, chosenId: null, awaitedId: null, failure: null };

export const useRuns = create<RunsState>(() => nothing);

const { getState, setState } = useRuns;

/** Without the events the server is asked so often. */
const POLL_MS = 1000;
/** What the time is enough for a first idea of a tone. */
export const QUICK_SECONDS = 4;

export const isOpen = ({ state }: Run) => state === 'waiting' || state === 'running';
export const shownRun = ({ runs, chosenId }: RunsState): Run | null =>
  runs?.find(({ id }) => id === chosenId) ?? runs?.[0] ?? null;

/** Takes over what becomes known of a study's runs, by events, else by asking. Returns what ends that. */
export function followRuns(studyId: string): () => void {
  let isOver = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  setState(nothing);
  const take = (event: RunEvent) => {
    if (!isOver) takeOver(event);
  };
  const source = new EventSource(client.runEventsUrl(studyId));
  source.onmessage = ({ data }: MessageEvent<string>) => {
    const event = runEventSchema.safeParse(JSON.parse(data));
    if (event.success) take(event.data);
  };
  const ask = async () => {
    if (source.readyState !== EventSource.OPEN) await client.runs(studyId).then(take, () => undefined);
    if (!isOver) timer = setTimeout(() => void ask(), POLL_MS);
  };
  timer = setTimeout(() => void ask(), POLL_MS);
  return () => {
    isOver = true;
    clearTimeout(timer);
    source.close();
    setState(nothing);
  };
}

function takeOver({ runs, slots }: RunEvent): void {
  const before = getState().runs;
  setState({ runs, slots });
  for (const run of runs) {
    const earlier = before?.find(({ id }) => id === run.id);
    // What had ended before the page came is looked at once, too: the study may still lack its patch.
    const hasEnded = !isOpen(run) && (earlier ? isOpen(earlier) : before === null && run === runs[0]);
    if (hasEnded) void takeResult(run).catch((error: unknown) => setState({ failure: messageOf(error) }));
  }
}

/**
 * What a run has found: its reading becomes that of the cut, its recommended candidate is heard where
 * somebody waits for it. A study without a patch has been given that one.
 */
async function takeResult(run: Run): Promise<void> {
  const [cutId] = run.cutIds;
  const { study, readings } = useStudyStore.getState();
  const kept = readings[cutId] && getState().awaitedId !== run.id ? null : await client.reading(cutId);
  if (useStudyStore.getState().study?.id !== study?.id) return;
  if (kept) keepReading(cutId, kept.reading);
  const isAwaited = getState().awaitedId === run.id;
  if (study && usePatchStore.getState().patch === null) await takeTheirs(study.id);
  if (!isAwaited) return;
  const { candidates, notes } = await client.run(run.id);
  const [best] = candidates;
  if (!best || useStudyStore.getState().study?.id !== study?.id) return;
  const patch = await unpacked(best.patch);
  setState({ awaitedId: null });
  hearCandidate({ id: best.id, cutId, patch, notes }, true);
}

/** Begins a match of the chosen cut, or of several; what it is to do is told by what is given. */
export async function startRun(fields: Partial<NewRun> & { startsFromPatch?: boolean } = {}): Promise<void> {
  const { startsFromPatch = false, ...others } = fields;
  const { study } = useStudyStore.getState();
  const cut = cutOf(useStudyStore.getState());
  const { patch } = usePatchStore.getState();
  if (!study || !cut) return;
  endHearing();
  setState({ failure: null });
  try {
    // The cut may be new, or have been changed just now.
    await outbox.flush();
    const fromPatch = startsFromPatch && patch ? await packed(patch) : null;
    if (fromPatch) await sendContents(fromPatch);
    const run = await client.startRun(study.id, {
      id: crypto.randomUUID(),
      cutIds: [cut.id],
      structure: 'any',
      budgetSeconds: QUICK_SECONDS,
      locks: fromPatch ? heldLocks(patch!).map(({ lock }) => lock) : [],
      ...others,
      fromPatch,
    });
    if (useStudyStore.getState().study?.id !== study.id) return;
    setState(({ runs }) => ({
      runs: [run, ...(runs ?? []).filter(({ id }) => id !== run.id)],
      chosenId: run.id,
      awaitedId: run.id,
    }));
  } catch (error) {
    setState({ failure: messageOf(error) });
  }
}

/** Ends a run; what it has found until then stays. */
export async function endRun(id: string): Promise<void> {
  try {
    await client.endRun(id);
  } catch (error) {
    setState({ failure: messageOf(error) });
  }
}

export async function deleteRun(id: string): Promise<void> {
  await client.deleteRun(id);
  setState(({ runs, chosenId }) => ({
    runs: runs?.filter((run) => run.id !== id) ?? null,
    chosenId: chosenId === id ? null : chosenId,
  }));
}

/** What the patch would be with a candidate, or with one part of it, in place of what is there. */
export function patchWith(candidate: Patch, part: PatchPart | 'all', layerId?: string): Patch {
  const { patch } = usePatchStore.getState();
  // It follows the tempo of the track as soon as it is in the study, so that is no change.
  if (part === 'all' || !patch) return atTrackTempo(candidate, trackBpmOf(useStudyStore.getState()));
  return adoptPart(patch, layerId ?? patch.layers[0].id, candidate, part);
}

/** Takes a candidate over, or one part of it; one step to undo. */
export async function adopt(candidate: RunCandidate, part: PatchPart | 'all'): Promise<void> {
  const patch = await unpacked(candidate.patch);
  endHearing();
  usePatchStore.getState().setPatch(patchWith(patch, part));
}
