import { type SoundInfo, inspectAudio } from '@imprint/core/formats/decode';
import { InputError } from '@imprint/core/patch/inputError';
import { withFileSource } from './fileSource';

/** What the server needs to know of a sound file; the samples stay here. */
export type Inspection = { ok: true; info: SoundInfo } | { ok: false; message: string };

// Decoders tell the console what they throw as well.
console.error = console.warn = () => {};

// The process lives until its parent has the answer and ends it: one that left by itself could be gone, for
// the parent, before its answer was read.
process.on('message', (path: string) => {
  void inspect(path).then((inspection) => process.send!(inspection));
});

async function inspect(path: string): Promise<Inspection> {
  try {
    return { ok: true, info: await withFileSource(path, inspectAudio) };
  } catch (error) {
    if (error instanceof InputError) return { ok: false, message: error.message };
    throw error;
  }
}
