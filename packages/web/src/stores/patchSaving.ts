import type { Revision } from '@imprint/contract/api';
import type { PackedPatch } from '@imprint/core/patch/contents/packing';
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

/**
 * Makes the newest revision on the server the patch of this window; the present one can be had back by undo.
 */
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

/**
 * Puts the present patch down for sending, at once where its tables and samples are known, and keeps it in
 * this browser.
 */
export async function keepPatch(name: string | null = null): Promise<void> {
  const { study } = getState();
  const { patch } = usePatchStore.getState();
  if (!study || !patch) return;
  const known = before;
  const document = packedNow(patch) ?? (await packed(patch));
  // Packing may have taken its time: when a later state of the same study is here by now, that one is put
  // down.
  const isOpen = getState().study?.id === study.id;
  if (isOpen && usePatchStore.getState().patch !== patch && name === null) return;
  const from = before?.studyId === study.id ? before : known;
  const base = from?.revision?.number ?? null;
  const body = { patch: document, before: from?.patch ?? null, name };
  outbox.put({ kind: 'patch', id: study.id, studyId: study.id, base, body });
  // The timer that sends it may have run while it was packed.
  if (!isOpen) void outbox.flush();
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
      if (getState().study?.id !== unsent.studyId) return;
      setState({ revision });
      // What a window that is gone had left was saved: it is shown, unless something newer of this one waits.
      if (unsent.isLeftover && !outbox.waitingOf('patch', unsent.studyId))
        takeTheirs(unsent.studyId).catch(() => undefined);
    },
  });
}
