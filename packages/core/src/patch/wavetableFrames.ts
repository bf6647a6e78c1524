import { base64FromBytes, bytesFromBase64 } from './base64';
import { InputError } from './inputError';
import { FRAME_SAMPLES, type Wavetable } from './schema';

/**
 * The samples of a wavetable, `frameCount × 2048`, one frame after the other.
 * Throws an InputError when the bytes do not fit the count or hold something that is no number.
 */
export function framesOf(table: Wavetable): Float32Array {
  const bytes = bytesFromBase64(table.framesBase64);
  const expected = table.frameCount * FRAME_SAMPLES * 4;
  if (bytes.length !== expected) {
    throw new InputError(
      `Wavetable "${table.name}" holds ${bytes.length} bytes; ${table.frameCount} frames of ${FRAME_SAMPLES} floats are ${expected}.`,
    );
  }
  const view = new DataView(bytes.buffer);
  const samples = new Float32Array(bytes.length / 4);
  for (let i = 0; i < samples.length; i++) {
    samples[i] = view.getFloat32(4 * i, true);
    if (!Number.isFinite(samples[i]))
      throw new InputError(`Wavetable "${table.name}" holds a sample that is no number.`);
  }
  return samples;
}

/** A wavetable document from samples, whose length must be a multiple of 2048. */
export function wavetableFromSamples(id: string, name: string, samples: Float32Array): Wavetable {
  const bytes = new Uint8Array(samples.length * 4);
  const view = new DataView(bytes.buffer);
  samples.forEach((sample, i) => view.setFloat32(4 * i, sample, true));
  return { id, name, frameCount: samples.length / FRAME_SAMPLES, framesBase64: base64FromBytes(bytes) };
}
