import type { Revision } from '@imprint/contract/api';
import type { PackedPatch } from '@imprint/core/patch/packing';
import type { Patch } from '@imprint/core/patch/schema';
import { client } from '../api/client';
import { packed, packedNow, unpacked } from '../keeping/contents';
import { onSaved, outbox } from '../keeping/keeping';
import { usePatchStore } from './patchStore';
import { useStudyStore } from './studyStore';

const { getState, setState } = useStudyStore;

/** The patch of the revision that is known to be on the server, from which changes are counted. */
let before: { studyId: string; revision: Revision | null; patch: PackedPatch | null } | null = null;

/** Says what of an opened study's patch is on the server. */
export function startFrom(studyId: string, revision: Revision | null, patch: PackedPatch | null): void {
  before = { studyId, revision, patch };
}

let arriving = false;
/** Whether the patch that is just set came from the server, so that it need not go there. */
export const isArriving = () => arriving;

/** Makes the newest revision on the server the patch of this window; the present one can be had back by undo. */
export async function takeTheirs(studyId: string): Promise<void> {
  const kept = await client.patch(studyId);
  const patch = kept && (await unpacked(kept.patch));
  if (getState().study?.id !== studyId || !kept) return;
  startFrom(studyId, kept.revision, kept.patch);
  arriving = true;
  usePatchStore.getState().setPatch(patch);
  arriving = false;
  setState({ revision: kept.revision });
}

/** Puts the present patch down for sending, at once where its tables and samples are known, and keeps it in this browser. */
export async function keepPatch(name: string | null = null): Promise<void> {
  const { study } = getState();
  const { patch } = usePatchStore.getState();
  if (!study || !patch) return;
  put(study.id, packedNow(patch) ?? (await packed(patch)), name, patch);
}

function put(studyId: string, document: PackedPatch, name: string | null, patch: Patch): void {
  // Packing took its time: another study is open by now, or a later state of this one was put down already.
  if (getState().study?.id !== studyId || (usePatchStore.getState().patch !== patch && name === null)) return;
  const base = before?.studyId === studyId ? (before.revision?.number ?? null) : null;
  const known = before?.studyId === studyId ? before.patch : null;
  outbox.put({ kind: 'patch', id: studyId, studyId, base, body: { patch: document, before: known, name } });
}

/**
 * Keeps the present state of the patch as a revision now; named ones are kept for good.
 * Throws what kept it from being saved; it stays in this browser then and is sent later.
 */
export async function savePatch(name: string | null = null): Promise<void> {
  const { study } = getState();
  if (!study) return;
  await keepPatch(name);
  await outbox.flush();
  const left = outbox.waitingOf('patch', study.id);
  if (left) throw new Error(left.refusal ?? 'The server does not answer. It is kept in this browser and sent later.');
}

/** Takes over what the server confirmed. Returns what ends that. */
export function followSavings(): () => void {
  return onSaved({
    onConfirmed(unsent, { document }) {
      if (unsent.kind !== 'patch') return;
      const revision = document as Revision;
      if (before?.studyId === unsent.studyId) before = { ...before, revision, patch: unsent.body.patch };
      if (getState().study?.id === unsent.studyId) setState({ revision });
    },
    onRefused: () => {},
  });
}
