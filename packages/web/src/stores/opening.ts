import { OVERVIEW_VERSION } from '@imprint/core/reading/overview';
import type { Grid } from '@imprint/core/reading/grid';
import { client } from '../api/client';
import { openDeck } from '../audio/deck';
import { progress } from '../workers/workers';
import { selectCut } from './cuts';
import { forgetIsolated } from './isolationStore';
import { forgetHistory, usePatchStore } from './patchStore';
import { closed, messageOf, useStudyStore } from './studyStore';
import { endThreads, mediaApi, startMedia } from './threads';
import { transport } from './transportStore';

const { getState, setState } = useStudyStore;

const BEFORE_PIECE_MS = 500;

export async function openStudy(id: string): Promise<void> {
  closeStudy();
  setState({ status: 'loading', loading: { title: 'Opening the study', fraction: 0 } });
  try {
    const { study, cuts, proofs, patch, overview } = await client.study(id);
    const api = startMedia();
    const reference = await api.load(
      client.referenceUrl(study.reference.id),
      progress((fraction) => setState({ loading: { title: 'Loading the reference', fraction } })),
    );
    const deck = await openDeck(reference.audio, transport.ended);
    transport.attach(deck);
    setState({ status: 'ready', loading: null, study, cuts, proofs, reference, revision: patch?.revision ?? null });
    usePatchStore.getState().setPatch(patch?.patch ?? null);
    forgetHistory();
    if (cuts.length > 0) await selectCut(cuts[0].id);
    // The page draws first: nothing waits for this.
    await new Promise((resolve) => setTimeout(resolve, BEFORE_PIECE_MS));
    if (overview) {
      const { onsets, piece, exposed, sections } = overview;
      setState({ onsets, piece, exposed, sections });
    } else await makeOverview(study.reference.id);
  } catch (error) {
    setState({ status: 'failed', failure: messageOf(error), loading: null });
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

/** Sets the beats by hand; null for those that were found. Divisions that are read from then on refer to them. */
export async function setGrid(grid: Grid | null): Promise<void> {
  const { study } = getState();
  if (!study) return;
  setState({ study: { ...study, grid } });
  await client.changeStudy(study.id, { grid });
}

export function closeStudy(): void {
  endThreads();
  transport.attach(null);
  usePatchStore.getState().setPatch(null);
  forgetHistory();
  forgetIsolated(null);
  setState(closed);
}

export async function renameStudy(title: string): Promise<void> {
  const { study } = getState();
  if (study) setState({ study: await client.changeStudy(study.id, { title }) });
}
