import { type PhraseNote, renderPatch } from '../engine/render';
import type { Patch } from '../patch/schema';
import type { Audio } from '../reading/audio';
import { readTone } from '../reading/read';
import type { Reading } from '../reading/schema';
import { type Comparison, compareReadings } from './gaps';

export interface Proof {
  audio: Audio;
  reading: Reading;
  comparison: Comparison;
}

/** Prints a patch over a cut, measures the print by the reader that measured the cut, and counts the gaps. */
export function printProof(
  patch: Patch,
  notes: readonly PhraseNote[],
  reference: Reading,
  onProgress: (fraction: number) => void = () => {},
): Proof {
  const { sampleRateHz, durationSeconds } = reference;
  const channels = renderPatch({
    patch,
    notes,
    sampleRateHz,
    seconds: durationSeconds,
    onProgress: (fraction) => onProgress(0.4 * fraction),
  });
  const audio: Audio = { channels, sampleRateHz };
  const reading = readTone(audio, (fraction) => onProgress(0.4 + 0.6 * fraction), { piece: reference });
  return { audio, reading, comparison: compareReadings(reference, reading) };
}
