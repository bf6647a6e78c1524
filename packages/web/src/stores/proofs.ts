import { writeWav } from '@imprint/core/formats/wav';
import { phraseOf } from '@imprint/core/matching/phrase';
import { heardLoudness } from '@imprint/core/reading/level/heardLoudness';
import type { Cut, Proof as ProofSummary } from '@imprint/contract/api';
import type { Patch } from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';
import { client } from '../api/client';
import { packed, sendContents, unpacked } from '../keeping/contents';
import { outbox } from '../keeping/keeping';
import { EndedError, progress } from '../workers/workers';
import { isolatedOf, selectCut } from './cuts';
import { usePatchStore } from './patchStore';
import { cutOf, messageOf, readingOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { transport } from './transportStore';

const { getState, setState } = useStudyStore;

/** What a print is made of. */
interface Wanted {
  patch: Patch;
  cut: Cut;
  reading: Reading;
}

/** What is to be printed now: the patch over the chosen cut; null where something of it is missing. */
function wantedPrint(): Wanted | null {
  const cut = cutOf(getState());
  const { patch } = usePatchStore.getState();
  const reading = readingOf(getState());
  return cut && patch && reading && reading.notes.length > 0 ? { patch, cut, reading } : null;
}

const isSame = (a: Wanted | null, b: Wanted | null) =>
  a?.patch === b?.patch && a?.cut.id === b?.cut.id && a?.reading === b?.reading;

let printing = false;

/**
 * Prints the patch over the chosen cut and counts the gaps. Whatever changes meanwhile, the patch, the cut or
 * its reading, leads to one more print; so does a thread that was ended to cancel something else.
 */
export async function printPatch(): Promise<void> {
  if (printing) return;
  printing = true;
  let done: Wanted | null = null;
  for (let wanted = wantedPrint(); wanted && !isSame(wanted, done); wanted = wantedPrint()) {
    setState({ printing: true });
    if (await printOnce(wanted)) done = wanted;
  }
  printing = false;
  setState({ printing: false });
}

/** False when the thread was ended before it was done. */
async function printOnce(wanted: Wanted): Promise<boolean> {
  const { patch, cut, reading } = wanted;
  try {
    const tone = await isolatedOf(cut, () => {});
    const proof = await toneApi().printProof(
      patch,
      phraseOf(reading),
      { ...tone, reading },
      progress(() => {}),
    );
    if (!isSame(wantedPrint(), wanted)) return true;
    setState({ proof: { ...proof, patch, cutId: cut.id } });
    const own = heardLoudness(proof.reading);
    const lufs = heardLoudness(reading);
    transport.setLoudnessMatch(own === null || lufs === null ? null : lufs - own);
  } catch (error) {
    if (error instanceof EndedError) return false;
    setState({ workFailure: messageOf(error) });
  }
  return true;
}

/** Keeps the newest print with its gaps. */
export async function keepProof(name: string): Promise<void> {
  const { study, proof } = getState();
  const reading = readingOf(getState());
  if (!study || !proof || !reading) return;
  const { patch, cutId, comparison, audio } = proof;
  const wav = writeWav(audio, 'float32') as Uint8Array<ArrayBuffer>;
  // The cut may be new, and a proof refers to it.
  await outbox.flush();
  const document = await packed(patch);
  await sendContents(document);
  const fields = { name, cutId, patch: document, notes: phraseOf(reading), comparison };
  const kept = await client.keepProof(study.id, fields, wav);
  if (getState().study?.id === study.id) setState(({ proofs }) => ({ proofs: [kept, ...proofs] }));
}

/** Makes the patch of a kept proof the current one again; the present one can be had back by undo. */
export async function bringBackProof(id: string): Promise<void> {
  const { study } = getState();
  const { patch: document, cutId } = await client.proof(id);
  const patch = await unpacked(document);
  if (getState().study !== study) return;
  if (cutId && getState().cuts.some((cut) => cut.id === cutId)) await selectCut(cutId);
  usePatchStore.getState().setPatch(patch);
}

/** Puts a proof into the trash; it can be had back from there. */
export async function deleteProof(id: string): Promise<void> {
  await client.deleteProof(id);
  setState(({ proofs }) => ({ proofs: proofs.filter((proof) => proof.id !== id) }));
}

/** Puts a deleted proof back where it was. */
export async function putBackProof(proof: ProofSummary): Promise<void> {
  const { study } = getState();
  await client.putBack('proof', proof.id);
  if (getState().study !== study) return;
  setState(({ proofs }) => ({
    proofs: [...proofs, proof].sort((a, b) => b.createdAt.localeCompare(a.createdAt)),
  }));
}
