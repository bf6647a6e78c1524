import { type PhraseNote, renderPatch } from '../engine/render';
import type { Patch } from '../patch/schema';
import { readTone } from '../reading/read';
import type { Reading } from '../reading/schema';
import { type Comparison, type Tone, compareTones } from './comparison';

export interface Proof extends Tone {
  comparison: Comparison;
}

/** Prints a patch over a cut that was read, and measures the print by the reader that measured the cut. */
export function printTone(
  patch: Patch,
  notes: readonly PhraseNote[],
  reference: Reading,
  onProgress: (fraction: number) => void = () => {},
): Tone {
  const { sampleRateHz, durationSeconds } = reference;
  const channels = renderPatch({
    patch,
    notes,
    sampleRateHz,
    seconds: durationSeconds,
    onProgress: (fraction) => onProgress(0.4 * fraction),
  });
  const audio = { channels, sampleRateHz };
  const reading = readTone(audio, (fraction) => onProgress(0.4 + 0.6 * fraction), { piece: reference });
  return { audio, reading };
}

/** Prints a patch over a cut and compares the two. */
export function printProof(
  patch: Patch,
  notes: readonly PhraseNote[],
  reference: Tone,
  onProgress?: (fraction: number) => void,
): Proof {
  const tone = printTone(patch, notes, reference.reading, onProgress);
  return { ...tone, comparison: compareTones(reference, tone, true) };
}
