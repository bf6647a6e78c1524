import { writeWav } from '@imprint/core/formats/wav';
import { phraseOf } from '@imprint/core/matching/phrase';
import { heardLoudness } from '@imprint/core/reading/heardLoudness';
import { client } from '../api/client';
import { progress } from '../workers/workers';
import { selectCut } from './cuts';
import { usePatchStore } from './patchStore';
import { cutOf, messageOf, readingOf, useStudyStore } from './studyStore';
import { isRunning, toneThread } from './threads';
import { transport } from './transportStore';

const { getState, setState } = useStudyStore;

/** Prints the patch over the chosen cut and counts the gaps. Edits made meanwhile lead to one more print. */
export async function printPatch(): Promise<void> {
  if (getState().printing) return;
  const cut = cutOf(getState());
  const { patch } = usePatchStore.getState();
  const reading = readingOf(getState());
  if (!cut || !patch || !reading || reading.notes.length === 0) return;
  const thread = toneThread();
  setState({ printing: true });
  try {
    const proof = await thread.api.printProof(
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
    if (isRunning(thread)) setState({ printing: false });
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

/** Keeps the present state of the patch as a revision; named ones are kept for good. */
export async function savePatch(name: string | null = null): Promise<void> {
  const { study } = getState();
  const { patch } = usePatchStore.getState();
  if (!study || !patch) return;
  const revision = await client.keepPatch(study.id, patch, name);
  if (getState().study?.id !== study.id) return;
  setState({ revision, unsaved: usePatchStore.getState().patch !== patch });
}
