import { base64FromBytes, bytesFromBase64 } from './base64';
import { InputError } from '../inputError';
import { FRAME_SAMPLES, type Wavetable } from '../schema';

/**
 * The samples of a wavetable, `frameCount × 2048`, one frame after the other.
 * Throws an InputError when the bytes do not fit the count or hold something that is no number.
 */
export function framesOf(table: Wavetable): Float32Array {
  return samplesOfFrames(table, bytesFromBase64(table.framesBase64));
}

/** The same of a table whose bytes are kept elsewhere. */
export function samplesOfFrames(table: Omit<Wavetable, 'framesBase64'>, bytes: Uint8Array): Float32Array {
  checkFrameBytes(table, bytes.length);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const samples = new Float32Array(bytes.length / 4);
  for (let i = 0; i < samples.length; i++) {
    samples[i] = view.getFloat32(4 * i, true);
    if (!Number.isFinite(samples[i]))
      throw new InputError(`Wavetable "${table.name}" holds a sample that is no number.`);
  }
  return samples;
}

/** Throws an InputError when a table of so many bytes does not fit its count of frames. */
export function checkFrameBytes({ name, frameCount }: Omit<Wavetable, 'framesBase64'>, byteLength: number): void {
  const expected = frameCount * FRAME_SAMPLES * 4;
  if (byteLength === expected) return;
  throw new InputError(
    `Wavetable "${name}" holds ${byteLength} bytes; ${frameCount} frames of ${FRAME_SAMPLES} floats are ${expected}.`,
  );
}

/** A wavetable document from samples, whose length must be a multiple of 2048. */
export function wavetableFromSamples(id: string, name: string, samples: Float32Array): Wavetable {
  const bytes = new Uint8Array(samples.length * 4);
  const view = new DataView(bytes.buffer);
  samples.forEach((sample, i) => view.setFloat32(4 * i, sample, true));
  return { id, name, frameCount: samples.length / FRAME_SAMPLES, framesBase64: base64FromBytes(bytes) };
}
