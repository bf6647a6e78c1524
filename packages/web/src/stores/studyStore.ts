import { create } from 'zustand';
import type { Cut, CutFields, NewCut, Proof as KeptProofSummary, Revision, Study } from '@imprint/contract/api';
import { writeWav } from '@imprint/core/formats/wav';
import type { Proof } from '@imprint/core/matching/proof';
import { phraseOf } from '@imprint/core/matching/phrase';
import type { Patch } from '@imprint/core/patch/schema';
import { type Audio, sliceAudio } from '@imprint/core/reading/audio';
import type { ExposedMoment } from '@imprint/core/reading/exposedMoments';
import { OVERVIEW_VERSION } from '@imprint/core/reading/overview';
import { type Piece, pieceTraits } from '@imprint/core/reading/piece';
import { heardLoudness } from '@imprint/core/reading/heardLoudness';
import type { ReadingContext } from '@imprint/core/reading/read';
import type { Grid } from '@imprint/core/reading/grid';
import { type Isolation, isolates } from '@imprint/core/reading/isolation/settings';
import { notesWithin } from '@imprint/core/reading/noteEdits';
import type { Reading, ReadingNote } from '@imprint/core/reading/schema';
import { client } from '../api/client';
import { openDeck } from '../audio/deck';
import type { LoadedReference } from '../workers/media.worker';
import { type RunningWorker, progress, startMediaWorker, startToneWorker } from '../workers/workers';
import type { MediaWorker } from '../workers/media.worker';
import type { ToneWorker } from '../workers/tone.worker';
import { forgetIsolated, hear, useIsolation } from './isolationStore';
import { forgetHistory, usePatchStore } from './patchStore';
import { transport } from './transportStore';

/** Work that takes longer than a moment, with how far it is. */
export interface Work {
  title: string;
  fraction: number;
}

interface StudyState {
  status: 'closed' | 'loading' | 'ready' | 'failed';
  failure: string | null;
  loading: Work | null;
  study: Study | null;
  cuts: Cut[];
  proofs: KeptProofSummary[];
  cutId: string | null;
  reference: LoadedReference | null;
  onsets: number[];
  /** Tempo and key of the whole reference, once they are told. */
  piece: Piece | null;
  /** Null as long as they are looked for. */
  exposed: ExposedMoment[] | null;
  readings: Record<string, Reading>;
  /** The newest print of the patch over the chosen cut. */
  proof: (Proof & { patch: Patch; cutId: string }) | null;
  revision: Revision | null;
  unsaved: boolean;
  /** Reading or building that is running, and what went wrong with the last. */
  work: Work | null;
  workFailure: string | null;
  printing: boolean;
}

const closed: StudyState = {
  status: 'closed',
  failure: null,
  loading: null,
  study: null,
  cuts: [],
  proofs: [],
  cutId: null,
  reference: null,
  onsets: [],
  piece: null,
  exposed: null,
  readings: {},
  proof: null,
  revision: null,
  unsaved: false,
  work: null,
  workFailure: null,
  printing: false,
};

export const useStudyStore = create<StudyState>(() => closed);

const { getState, setState } = useStudyStore;
let media: RunningWorker<MediaWorker> | undefined;
let tone: RunningWorker<ToneWorker> | undefined;

/** The thread for readings and prints, started at first need and after a cancel. */
export const toneApi = () => (tone ??= startToneWorker()).api;
export const mediaApi = () => media?.api;

const BEFORE_PIECE_MS = 500;

const messageOf = (error: unknown) => (error instanceof Error ? error.message : String(error));
const byTime = (a: Cut, b: Cut) => a.fromSeconds - b.fromSeconds;

export async function openStudy(id: string): Promise<void> {
  closeStudy();
  setState({ status: 'loading', loading: { title: 'Opening the study', fraction: 0 } });
  try {
    const { study, cuts, proofs, patch, overview } = await client.study(id);
    media = startMediaWorker();
    const reference = await media.api.load(
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
    if (overview) setState({ onsets: overview.onsets, piece: overview.piece, exposed: overview.exposed });
    else await makeOverview(study.reference.id, media.api);
  } catch (error) {
    setState({ status: 'failed', failure: messageOf(error), loading: null });
  }
}

/** Works out what is told of the whole reference, shows each part as it comes, and keeps it. */
async function makeOverview(referenceId: string, api: RunningWorker<MediaWorker>['api']): Promise<void> {
  const { reference } = getState();
  const onsets = await api.onsets();
  if (getState().reference !== reference) return;
  setState({ onsets });
  const piece = (await api.piece()) ?? {};
  if (getState().reference !== reference) return;
  setState({ piece });
  const exposed = await api.exposed(onsets);
  if (getState().reference !== reference) return;
  setState({ exposed });
  // What could not be kept is worked out again next time; the study goes on.
  await client.keepOverview(referenceId, { version: OVERVIEW_VERSION, onsets, piece, exposed }).catch(() => undefined);
}

/** The beats as set by hand, or as found; null where there are none. */
export const gridOf = ({ study, piece }: StudyState): Grid | null => study?.grid ?? piece?.tempo ?? null;

/** Sets the beats by hand; null for those that were found. Divisions that are read from then on refer to them. */
export async function setGrid(grid: Grid | null): Promise<void> {
  const { study } = getState();
  if (!study) return;
  setState({ study: { ...study, grid } });
  await client.changeStudy(study.id, { grid });
}

export function closeStudy(): void {
  media?.end();
  tone?.end();
  media = tone = undefined;
  transport.attach(null);
  usePatchStore.getState().setPatch(null);
  forgetHistory();
  forgetIsolated(null);
  setState(closed);
}

export const cutOf = ({ cuts, cutId }: StudyState) => cuts.find((cut) => cut.id === cutId) ?? null;

/** The reading of the chosen cut, its notes as corrected by hand. */
export function readingOf(state: StudyState): Reading | null {
  const cut = cutOf(state);
  const reading = cut ? state.readings[cut.id] : undefined;
  return reading ? withNotes(reading, cut!.notes) : null;
}

const corrected = new WeakMap<ReadingNote[], Reading>();

/** The same object for the same notes, so that what depends on it is not made anew. */
function withNotes(reading: Reading, notes: ReadingNote[] | null): Reading {
  if (!notes) return reading;
  const known = corrected.get(notes);
  if (known && known.traits === reading.traits) return known;
  const changed = { ...reading, notes };
  corrected.set(notes, changed);
  return changed;
}

/** The samples of a cut, read in place. */
export function audioOf(cut: Cut): Audio {
  return sliceAudio(getState().reference!.audio, cut.fromSeconds, cut.toSeconds);
}

/** What of a cut is to be measured: all of it, or what its isolation keeps. */
async function keptOf(cut: Cut, report: (fraction: number) => void): Promise<Audio> {
  if (!cut.isolation || !isolates(cut.isolation)) return audioOf(cut);
  const { isolated } = useIsolation.getState();
  if (isolated?.cutId === cut.id) return isolated.kept;
  const made = await toneApi().isolate(audioOf(cut), cut.isolation, notesOf(cut), progress(report));
  if (getState().cutId === cut.id) useIsolation.setState({ isolated: { ...made, cutId: cut.id } });
  return made.kept;
}

const notesOf = (cut: Cut): ReadingNote[] => cut.notes ?? getState().readings[cut.id]?.notes ?? [];

/** Works out what is kept and what is left out of the chosen cut. */
export async function isolateCut(): Promise<void> {
  const cut = cutOf(getState());
  if (!cut?.isolation || useIsolation.getState().isolated?.cutId === cut.id) return;
  await doWork('Isolating', (report) => keptOf(cut, report));
  if (getState().cutId === cut.id) hear(cut, 'kept');
}

/** Changes what is kept of the chosen cut. Its reading was of something else; the notes stay for the masks that follow them. */
export async function setIsolation(isolation: Isolation): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  const notes = notesOf(cut);
  const changes = { isolation: isolates(isolation) ? isolation : null, ...(notes.length > 0 && { notes }) };
  showCut({ ...cut, ...changes });
  forgetIsolated(cut);
  await changeCut(cut.id, changes);
  await isolateCut();
}

/** Shows a changed cut before the server has answered. */
function showCut(cut: Cut): void {
  setState(({ cuts }) => ({ cuts: cuts.map((other) => (other.id === cut.id ? cut : other)) }));
}

/** Corrects the notes of the chosen cut; null for those that were found. */
export async function setNotes(notes: ReadingNote[] | null): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  showCut({ ...cut, notes });
  await client.changeCut(cut.id, { notes });
}

export async function selectCut(cutId: string | null): Promise<void> {
  setState({ cutId, proof: null, workFailure: null });
  const cut = cutOf(getState());
  forgetIsolated(cut);
  transport.setSpan(cut);
  if (!cut || getState().readings[cut.id]) return;
  const kept = await client.reading(cut.id);
  if (kept) keepReading(cut.id, kept.reading);
}

function keepReading(cutId: string, reading: Reading): void {
  setState(({ readings }) => ({ readings: { ...readings, [cutId]: reading } }));
}

export async function addCut(fields: NewCut): Promise<void> {
  const { study } = getState();
  if (!study) return;
  const cut = await client.addCut(study.id, fields);
  setState(({ cuts }) => ({ cuts: [...cuts, cut].sort(byTime) }));
  await selectCut(cut.id);
}

export async function changeCut(id: string, changes: Partial<CutFields>): Promise<void> {
  const moved = changes.fromSeconds !== undefined || changes.toSeconds !== undefined;
  const before = getState().cuts.find((other) => other.id === id);
  const other = moved || 'isolation' in changes;
  const cut = await client.changeCut(
    id,
    moved && before?.notes ? { notes: movedNotes(before, changes), ...changes } : changes,
  );
  setState(({ cuts, readings }) => {
    const { [id]: old, ...others } = readings;
    // A reading belongs to a span and to what is kept of it; a changed cut has none yet.
    return {
      cuts: cuts.map((other) => (other.id === id ? cut : other)).sort(byTime),
      readings: other || !old ? others : readings,
    };
  });
  if (other && getState().cutId === id) {
    setState({ proof: null });
    forgetIsolated(cut);
    transport.setSpan(cut);
  }
}

/** Notes corrected by hand stay where they are in the piece when the edges of their cut move. */
function movedNotes(cut: Cut, changes: Partial<CutFields>): ReadingNote[] {
  const { fromSeconds, toSeconds } = { ...cut, ...changes };
  return notesWithin(cut.notes ?? [], fromSeconds - cut.fromSeconds, toSeconds - fromSeconds);
}

export async function deleteCut(id: string): Promise<void> {
  await client.deleteCut(id);
  setState(({ cuts }) => ({ cuts: cuts.filter((cut) => cut.id !== id) }));
  if (getState().cutId === id) await selectCut(getState().cuts[0]?.id ?? null);
}

/** Runs one piece of work with its progress shown; says what went wrong, unless it was cancelled. */
async function doWork<T>(
  title: string,
  run: (report: (fraction: number) => void) => Promise<T>,
): Promise<T | undefined> {
  setState({ work: { title, fraction: 0 }, workFailure: null });
  void media?.api.pause(true);
  const worker = (tone ??= startToneWorker());
  try {
    return await run((fraction) => setState({ work: { title, fraction } }));
  } catch (error) {
    if (tone === worker) setState({ workFailure: messageOf(error) });
    return undefined;
  } finally {
    if (tone === worker) setState({ work: null });
    void media?.api.pause(false);
  }
}

/** Ends running work at once. What was there before stays. */
export function cancelWork(): void {
  tone?.end();
  tone = undefined;
  setState({ work: null, printing: false });
}

/** What the whole file tells about a cut. */
const pieceContext = (): ReadingContext => {
  const { piece, study } = getState();
  if (!piece) return {};
  const traits = pieceTraits(piece);
  return { piece: study?.grid ? { ...traits, tempo: { bpm: study.grid.bpm, confidence: 1 } } : traits };
};

/** Measures the chosen cut. */
export async function readCut(): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  const reading = await doWork('Measuring the cut', async (report) =>
    toneApi().read(await keptOf(cut, report), pieceContext(), progress(report)),
  );
  if (reading) await storeReading(cut, reading);
}

/** Measures every cut that has no reading yet, one after the other; what was measured before a cancel stays. */
export async function readAllCuts(): Promise<void> {
  const { cuts } = getState();
  for (const [i, cut] of cuts.entries()) {
    const kept = getState().readings[cut.id] ?? (await client.reading(cut.id))?.reading;
    if (kept) {
      keepReading(cut.id, kept);
      continue;
    }
    const title = `Measuring cut ${i + 1} of ${cuts.length}`;
    const reading = await doWork(title, async (report) =>
      toneApi().read(await keptOf(cut, report), pieceContext(), progress(report)),
    );
    if (!reading) return;
    await storeReading(cut, reading);
  }
}

async function storeReading(cut: Cut, reading: Reading): Promise<void> {
  keepReading(cut.id, reading);
  await client.keepReading(cut.id, { fromSeconds: cut.fromSeconds, toSeconds: cut.toSeconds, reading });
}

/** Measures the chosen cut and makes a first patch of it. */
export async function makeFirstPatch(): Promise<void> {
  const { study } = getState();
  const cut = cutOf(getState());
  if (!cut || !study) return;
  const first = await doWork('Making a first patch', async (report) =>
    toneApi().firstPatch(await keptOf(cut, report), study.title, pieceContext(), progress(report)),
  );
  if (!first) return;
  usePatchStore.getState().setPatch(first.patch);
  await storeReading(cut, first.reading);
}

/** Prints the patch over the chosen cut and counts the gaps. Edits made meanwhile lead to one more print. */
export async function printPatch(): Promise<void> {
  if (getState().printing) return;
  const cut = cutOf(getState());
  const { patch } = usePatchStore.getState();
  const reading = readingOf(getState());
  if (!cut || !patch || !reading || reading.notes.length === 0) return;
  const worker = (tone ??= startToneWorker());
  setState({ printing: true });
  try {
    const proof = await worker.api.printProof(
      patch,
      phraseOf(reading),
      reading,
      progress(() => {}),
    );
    if (getState().cutId === cut.id) {
      setState({ proof: { ...proof, patch, cutId: cut.id } });
      const own = heardLoudness(proof.reading);
      const lufs = heardLoudness(reading);
      transport.setLoudnessMatch(own === null || lufs === null ? null : lufs - own);
    }
  } catch (error) {
    setState({ workFailure: messageOf(error) });
  } finally {
    if (tone === worker) setState({ printing: false });
  }
  if (usePatchStore.getState().patch !== patch) await printPatch();
}

/** Keeps the newest print with its gaps. */
export async function keepProof(name: string): Promise<void> {
  const { study, proof } = getState();
  const reading = readingOf(getState());
  if (!study || !proof || !reading) return;
  const { patch, cutId, comparison, audio } = proof;
  const wav = writeWav(audio, 'float32') as Uint8Array<ArrayBuffer>;
  const kept = await client.keepProof(study.id, { name, cutId, patch, notes: phraseOf(reading), comparison }, wav);
  setState(({ proofs }) => ({ proofs: [kept, ...proofs] }));
}

/** Makes the patch of a kept proof the current one again; the present one can be had back by undo. */
export async function bringBackProof(id: string): Promise<void> {
  const { patch, cutId } = await client.proof(id);
  if (cutId && getState().cuts.some((cut) => cut.id === cutId)) await selectCut(cutId);
  usePatchStore.getState().setPatch(patch);
}

export async function deleteProof(id: string): Promise<void> {
  await client.deleteProof(id);
  setState(({ proofs }) => ({ proofs: proofs.filter((proof) => proof.id !== id) }));
}

export async function renameStudy(title: string): Promise<void> {
  const { study } = getState();
  if (study) setState({ study: await client.changeStudy(study.id, { title }) });
}

/** Keeps the present state of the patch as a revision; named ones are kept for good. */
export async function savePatch(name: string | null = null): Promise<void> {
  const { study } = getState();
  const { patch } = usePatchStore.getState();
  if (!study || !patch) return;
  const revision = await client.keepPatch(study.id, patch, name);
  if (getState().study?.id !== study.id) return;
  setState({ revision, unsaved: usePatchStore.getState().patch !== patch });
}
