import { type Cut, type CutFields, type NewCut, wholeCutSchema } from '@imprint/contract/api';
import type { Audio, IsolatedTone } from '@imprint/core/reading/audio';
import { type Isolation, isolates } from '@imprint/core/reading/isolation/settings';
import { notesWithin } from '@imprint/core/reading/hand/noteEdits';
import type { Overrules } from '@imprint/core/reading/hand/overrules';
import type { Reading, ReadingNote } from '@imprint/core/reading/schema';
import { client } from '../api/client';
import { onSaved, outbox } from '../keeping/keeping';
import { progress } from '../workers/workers';
import { forgetCompared } from './comparedStore';
import { endHearing } from './heardCandidate';
import { forgetIsolated, hear, useIsolation } from './isolationStore';
import { audioOf, cutOf, notesOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { transport } from './transportStore';
import { doWork } from './work';

const { getState, setState } = useStudyStore;

const byTime = (a: Cut, b: Cut) => a.fromSeconds - b.fromSeconds;

export async function selectCut(cutId: string | null): Promise<void> {
  endHearing();
  forgetCompared();
  setState({ cutId, proof: null, workFailure: null });
  const cut = cutOf(getState());
  forgetIsolated(cut);
  transport.setSpan(cut);
  if (!cut || getState().readings[cut.id]) return;
  const { study } = getState();
  const kept = await client.reading(cut.id);
  // Another study may be open by now, or the cut have been moved.
  const now = getState().cuts.find(({ id }) => id === cut.id);
  const stillFits = kept?.fromSeconds === now?.fromSeconds && kept?.toSeconds === now?.toSeconds;
  if (kept && stillFits && getState().study === study) keepReading(cut.id, kept.reading);
}

export function keepReading(cutId: string, reading: Reading): void {
  setState(({ readings }) => ({ readings: { ...readings, [cutId]: reading } }));
}

/** Adds a cut to the open study and chooses it. Throws what is wrong with it. */
export async function addCut(fields: NewCut): Promise<void> {
  const added = addUnchosen(fields);
  if (added) await selectNewCut(added.cut.id, added.sent);
}

/** Adds a cut to the open study, which stays at the one that is chosen. Throws what is wrong with it. */
export async function addCutBeside(fields: NewCut): Promise<Cut | undefined> {
  const added = addUnchosen(fields);
  await added?.sent;
  return added?.cut;
}

function addUnchosen(fields: NewCut): { cut: Cut; sent: Promise<void> } | undefined {
  const { study } = getState();
  if (!study) return undefined;
  const whole = { isolation: null, notes: null, overrules: {}, ...fields };
  const cut: Cut = { ...checked(whole), id: crypto.randomUUID(), revision: 1, saveId: null };
  setState(({ cuts }) => ({ cuts: [...cuts, cut].sort(byTime) }));
  const body = { isNew: true, fields: checked(whole) };
  outbox.put({ kind: 'cut', id: cut.id, studyId: study.id, base: null, body });
  return { cut, sent: outbox.flush() };
}

/** A new cut has no reading on the server yet, so none is asked for. */
async function selectNewCut(cutId: string, sent: Promise<void>): Promise<void> {
  setState({ cutId, proof: null, workFailure: null });
  const cut = cutOf(getState());
  forgetIsolated(cut);
  transport.setSpan(cut);
  await sent;
}

/** Fields of a cut as they can be kept. Throws an error in words. */
function checked(fields: object): CutFields {
  const result = wholeCutSchema.safeParse(fields);
  if (!result.success) throw new Error(result.error.issues[0].message);
  return result.data;
}

/**
 * Changes a cut here at once, and on the server as soon as it can be. Throws what is wrong with the change.
 */
export async function changeCut(id: string, changes: Partial<CutFields>): Promise<void> {
  const { study, cuts } = getState();
  const before = cuts.find((other) => other.id === id);
  if (!study || !before) return;
  const moved = changes.fromSeconds !== undefined || changes.toSeconds !== undefined;
  const wanted = moved && before.notes ? { notes: movedNotes(before, changes), ...changes } : changes;
  const whole = checked({ ...before, ...wanted });
  const names = Object.keys(wanted) as (keyof CutFields)[];
  const fields = Object.fromEntries(names.map((name) => [name, whole[name]])) as Partial<CutFields>;
  const cut = { ...before, ...fields };
  const other = moved || 'isolation' in changes;
  setState(({ cuts, readings }) => {
    const { [id]: old, ...others } = readings;
    // A reading belongs to a span and to what is kept of it; a changed cut has none yet.
    return {
      cuts: cuts.map((one) => (one.id === id ? cut : one)).sort(byTime),
      readings: other || !old ? others : readings,
    };
  });
  if (other) outbox.drop('reading', id);
  if (other && getState().cutId === id) {
    setState({ proof: null });
    forgetIsolated(cut);
    transport.setSpan(cut);
  }
  outbox.put({ kind: 'cut', id, studyId: study.id, base: before.revision, body: { isNew: false, fields } });
  await outbox.flush();
}

/** Takes over what the server confirmed of cuts. Returns what ends that. */
export function followCuts(): () => void {
  return onSaved({
    onConfirmed({ kind, id }, { base, saveId }) {
      if (kind !== 'cut' || base === null) return;
      setState(({ cuts }) => ({
        cuts: cuts.map((cut) => (cut.id === id ? { ...cut, revision: base, saveId } : cut)),
      }));
    },
  });
}

/** Notes corrected by hand stay where they are in the piece when the edges of their cut move. */
function movedNotes(cut: Cut, changes: Partial<CutFields>): ReadingNote[] {
  const { fromSeconds, toSeconds } = { ...cut, ...changes };
  return notesWithin(cut.notes ?? [], fromSeconds - cut.fromSeconds, toSeconds - fromSeconds);
}

/** Puts a cut into the trash; it can be had back from there. */
export async function deleteCut(id: string): Promise<void> {
  // One that is new may not be there yet.
  await outbox.flush();
  await client.deleteCut(id);
  outbox.drop('cut', id);
  outbox.drop('reading', id);
  setState(({ cuts }) => ({ cuts: cuts.filter((cut) => cut.id !== id) }));
  if (getState().cutId === id) await selectCut(getState().cuts[0]?.id ?? null);
}

/** Puts a deleted cut back where it was. */
export async function putBackCut(cut: Cut): Promise<void> {
  const { study } = getState();
  await client.putBack('cut', cut.id);
  if (getState().study !== study) return;
  setState(({ cuts }) => ({ cuts: [...cuts.filter(({ id }) => id !== cut.id), cut].sort(byTime) }));
  await selectCut(cut.id);
}

/** What of a cut is to be measured: all of it, or what its isolation keeps. */
export const keptOf = async (cut: Cut, report: (fraction: number) => void): Promise<Audio> =>
  (await isolatedOf(cut, report)).audio;

/** The same, with what is left out of the cut as what sounds around it. */
export async function isolatedOf(cut: Cut, report: (fraction: number) => void): Promise<IsolatedTone> {
  if (!cut.isolation || !isolates(cut.isolation)) return { audio: audioOf(cut) };
  const { isolated } = useIsolation.getState();
  if (isolated?.cutId === cut.id) return { audio: isolated.kept, surroundings: isolated.leftOut };
  const made = await toneApi().isolate(audioOf(cut), cut.isolation, notesOf(cut), progress(report));
  // Other settings may have come meanwhile, whose own result is on its way.
  if (cutOf(getState())?.isolation === cut.isolation) useIsolation.setState({ isolated: { ...made, cutId: cut.id } });
  return { audio: made.kept, surroundings: made.leftOut };
}

/** Works out what is kept and what is left out of the chosen cut. */
export async function isolateCut(): Promise<void> {
  const cut = cutOf(getState());
  if (!cut?.isolation || useIsolation.getState().isolated?.cutId === cut.id) return;
  await doWork('Isolating', (report) => keptOf(cut, report));
  if (useIsolation.getState().isolated?.cutId === cut.id) hear(cut, 'kept');
}

/**
 * Changes what is kept of the chosen cut. Its reading was of something else; the notes stay for the masks
 * that follow them.
 */
export async function setIsolation(isolation: Isolation): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  const notes = notesOf(cut);
  const changes = { isolation: isolates(isolation) ? isolation : null, ...(notes.length > 0 && { notes }) };
  await changeCut(cut.id, changes);
  await isolateCut();
}

/** Corrects the notes of the chosen cut; null for those that were found. */
export async function setNotes(notes: ReadingNote[] | null): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  setState(({ earlierNotes }) => ({ earlierNotes: [...earlierNotes, { cutId: cut.id, notes: cut.notes }] }));
  await changeCut(cut.id, { notes });
}

/** Takes the last correction of the chosen cut's notes back. */
export async function undoNotes(): Promise<void> {
  const cut = cutOf(getState());
  const { earlierNotes } = getState();
  const last = earlierNotes.findLastIndex(({ cutId }) => cutId === cut?.id);
  if (!cut || last < 0) return;
  setState({ earlierNotes: earlierNotes.filter((_, i) => i !== last) });
  await changeCut(cut.id, { notes: earlierNotes[last].notes });
}

/** Sets what was measured of the chosen cut by hand; null for the measured value. */
export async function overrule(name: keyof Overrules, value: number | null): Promise<void> {
  const cut = cutOf(getState());
  if (!cut) return;
  const others = Object.fromEntries(Object.entries(cut.overrules).filter(([other]) => other !== name)) as Overrules;
  const overrules = value === null ? others : { ...others, [name]: value };
  await changeCut(cut.id, { overrules });
}
