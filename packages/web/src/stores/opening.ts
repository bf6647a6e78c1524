import { OVERVIEW_VERSION } from '@imprint/core/reading/piece/overview';
import type { Grid } from '@imprint/core/reading/piece/grid';
import { client } from '../api/client';
import { openDeck } from '../audio/deck';
import { unpacked } from '../keeping/contents';
import { onSaved, outbox, sendFirstLeftovers } from '../keeping/keeping';
import { progress } from '../workers/workers';
import { selectCut } from './cuts';
import { forgetIsolated } from './isolationStore';
import { forgetCompared } from './comparedStore';
import { endHearing } from './heardCandidate';
import { forgetHistory, usePatchStore } from './patchStore';
import { startFrom } from './patchSaving';
import { closed, messageOf, useStudyStore } from './studyStore';
import { endThreads, mediaApi, startMedia } from './threads';
import { transport } from './transportStore';

const { getState, setState } = useStudyStore;

const BEFORE_PIECE_MS = 500;

/** Counts openings and closings: what an earlier one still waits for is not taken up. */
let turn = 0;

export async function openStudy(id: string): Promise<void> {
  closeStudy();
  const mine = turn;
  const isOver = () => turn !== mine;
  setState({ status: 'loading', loading: { title: 'Opening the study', fraction: 0 } });
  try {
    // What an earlier page had left to send belongs to what is opened.
    await sendFirstLeftovers();
    if (isOver()) return;
    const { study, cuts, proofs, patch: kept, overview } = await client.study(id);
    const patch = kept && (await unpacked(kept.patch));
    if (isOver()) return;
    const reference = await startMedia().load(
      client.referenceUrl(study.reference.id),
      progress((fraction) => !isOver() && setState({ loading: { title: 'Loading the reference', fraction } })),
    );
    if (isOver()) return;
    const deck = await openDeck(reference.audio, { onEnded: transport.ended, onRunning: transport.running });
    if (isOver()) {
      deck.close();
      return;
    }
    transport.attach(deck);
    startFrom(study.id, kept?.revision ?? null, kept?.patch ?? null);
    setState({ status: 'ready', loading: null, study, cuts, proofs, reference, revision: kept?.revision ?? null });
    usePatchStore.getState().setPatch(patch);
    forgetHistory();
    if (cuts.length > 0) await selectCut(cuts[0].id);
    // The page draws first: nothing waits for this.
    await new Promise((resolve) => setTimeout(resolve, BEFORE_PIECE_MS));
    if (isOver()) return;
    if (overview) {
      const { onsets, piece, exposed, sections } = overview;
      setState({ onsets, piece, exposed, sections });
    } else await makeOverview(study.reference.id);
  } catch (error) {
    if (isOver()) return;
    // A study that is open stays so when only what is told of the whole file failed.
    if (getState().status === 'ready') setState({ workFailure: messageOf(error) });
    else setState({ status: 'failed', failure: messageOf(error), loading: null });
  }
}

/** Works out what is told of the whole reference, shows each part as it comes, and keeps it. */
async function makeOverview(referenceId: string): Promise<void> {
  const api = mediaApi();
  if (!api) return;
  const { reference } = getState();
  setState({ overviewStopped: false });
  /** Shows a part; false once the study was closed or the work stopped. */
  const show = (part: Partial<ReturnType<typeof getState>>) => {
    if (getState().reference !== reference || getState().overviewStopped) return false;
    setState(part);
    return true;
  };
  const onsets = await api.onsets();
  if (!onsets || !show({ onsets })) return;
  const piece = await api.piece();
  if (!piece || !show({ piece })) return;
  const exposed = await api.exposed(onsets);
  if (!exposed || !show({ exposed })) return;
  const sections = await api.sections();
  if (!sections || !show({ sections })) return;
  // What could not be kept is worked out again next time; the study goes on.
  const overview = { version: OVERVIEW_VERSION, onsets, piece, exposed, sections } as const;
  await client.keepOverview(referenceId, overview).catch(() => undefined);
}

/** Ends the work on the whole file; what was told of it before stays. */
export async function stopOverview(): Promise<void> {
  setState({ overviewStopped: true });
  await mediaApi()?.stop();
}

export async function goOnWithOverview(): Promise<void> {
  const { study } = getState();
  if (study) await makeOverview(study.reference.id);
}

/**
 * Sets the beats by hand; null for those that were found. Divisions that are read from then on refer to them.
 */
export function setGrid(grid: Grid | null): void {
  changeStudy({ grid });
}

export function renameStudy(title: string): void {
  if (title.trim()) changeStudy({ title: title.trim() });
}

function changeStudy(changes: { title?: string; grid?: Grid | null }): void {
  const { study } = getState();
  if (!study) return;
  setState({ study: { ...study, ...changes } });
  outbox.put({ kind: 'study', id: study.id, studyId: study.id, base: study.revision, body: changes });
  void outbox.flush();
}

/** Takes over what the server confirmed of the open study. Returns what ends that. */
export function followStudy(): () => void {
  return onSaved({
    onConfirmed({ kind, id }, { base, saveId }) {
      const { study } = getState();
      if (kind === 'study' && study?.id === id && base !== null)
        setState({ study: { ...study, revision: base, saveId } });
    },
  });
}

export function closeStudy(): void {
  turn++;
  endThreads();
  transport.attach(null);
  usePatchStore.getState().setPatch(null);
  forgetHistory();
  forgetIsolated(null);
  endHearing();
  forgetCompared();
  setState(closed);
}
