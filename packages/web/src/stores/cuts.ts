import type { Cut, CutFields, NewCut } from '@imprint/contract/api';
import type { Audio } from '@imprint/core/reading/audio';
import { type Isolation, isolates } from '@imprint/core/reading/isolation/settings';
import { notesWithin } from '@imprint/core/reading/noteEdits';
import type { Overrules } from '@imprint/core/reading/overrules';
import type { Reading, ReadingNote } from '@imprint/core/reading/schema';
import { client } from '../api/client';
import { progress } from '../workers/workers';
import { forgetIsolated, hear, useIsolation } from './isolationStore';
import { audioOf, cutOf, notesOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { transport } from './transportStore';
import { doWork } from './work';

const { getState, setState } = useStudyStore;

const byTime = (a: Cut, b: Cut) => a.fromSeconds - b.fromSeconds;

export async function selectCut(cutId: string | null): Promise<void> {
  setState({ cutId, proof: null, workFailure: null });
  const cut = cutOf(getState());
  forgetIsolated(cut);
  transport.setSpan(cut);
  if (!cut || getState().readings[cut.id]) return;
  const kept = await client.reading(cut.id);
  if (kept) keepReading(cut.id, kept.reading);
}

export function keepReading(cutId: string, reading: Reading): void {
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

/** What of a cut is to be measured: all of it, or what its isolation keeps. */
export async function keptOf(cut: Cut, report: (fraction: number) => void): Promise<Audio> {
  if (!cut.isolation || !isolates(cut.isolation)) return audioOf(cut);
  const { isolated } = useIsolation.getState();
  if (isolated?.cutId === cut.id) return isolated.kept;
  const made = await toneApi().isolate(audioOf(cut), cut.isolation, notesOf(cut), progress(report));
  if (getState().cutId === cut.id) useIsolation.setState({ isolated: { ...made, cutId: cut.id } });
  return made.kept;
}

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
  setState(({ earlierNotes }) => ({ earlierNotes: [...earlierNotes, { cutId: cut.id, notes: cut.notes }] }));
  await changeNotes(cut, notes);
}

/** Takes the last correction of the chosen cut's notes back. */
export async function undoNotes(): Promise<void> {
  const cut = cutOf(getState());
  const { earlierNotes } = getState();
  const last = earlierNotes.findLastIndex(({ cutId }) => cutId === cut?.id);
  if (!cut || last < 0) return;
  setState({ earlierNotes: earlierNotes.filter((_, i) => i !== last) });
  await changeNotes(cut, earlierNotes[last].notes);
}

async function changeNotes(cut: Cut, notes: ReadingNote[] | null): Promise<void> {
  showCut({ ...cut, notes });
  await client.changeCut(cut.id, { notes });
}

/** Sets what was measured of the chosen cut by hand; null for the measured value. */
export async function overrule(name: keyof Overrules, value: number | null): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  const others = Object.fromEntries(Object.entries(cut.overrules).filter(([other]) => other !== name)) as Overrules;
  const overrules = value === null ? others : { ...others, [name]: value };
  showCut({ ...cut, overrules });
  try {
    await client.changeCut(cut.id, { overrules });
  } catch (error) {
    showCut(cut);
    throw error;
  }
}
