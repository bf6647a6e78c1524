import { readFileSync } from 'node:fs';
import { decodeAudio } from '@imprint/core/formats/decode';
import { InputError } from '@imprint/core/patch/inputError';
import { durationOf } from '@imprint/core/reading/audio';

/** What the server needs to know of a sound file; the samples stay here. */
export type Inspection =
  | { ok: true; format: string; durationSeconds: number; sampleRateHz: number; channels: number }
  | { ok: false; message: string };

process.once('message', (path: string) => {
  void inspect(path).then((inspection) => process.send!(inspection));
});

async function inspect(path: string): Promise<Inspection> {
  try {
    const audio = await decodeAudio(readFileSync(path));
    const { format, sampleRateHz, channels } = audio;
    return { ok: true, format, durationSeconds: durationOf(audio), sampleRateHz, channels: channels.length };
  } catch (error) {
    if (error instanceof InputError) return { ok: false, message: error.message };
    throw error;
  }
}
