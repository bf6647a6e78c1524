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

const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const VALUES = new Uint8Array(128);
for (let i = 0; i < 64; i++) VALUES[ALPHABET.charCodeAt(i)] = i;

// An audio worklet has neither atob nor Buffer, so base64 (RFC 4648) is done here.
function bytesFromBase64(text: string): Uint8Array {
  const body = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((body.length * 3) / 4));
  for (let i = 0, out = 0; out < bytes.length; i += 4) {
    const word =
      (VALUES[body.charCodeAt(i)] << 18) |
      (VALUES[body.charCodeAt(i + 1)] << 12) |
      ((VALUES[body.charCodeAt(i + 2)] ?? 0) << 6) |
      (VALUES[body.charCodeAt(i + 3)] ?? 0);
    bytes[out++] = word >> 16;
    if (out < bytes.length) bytes[out++] = (word >> 8) & 255;
    if (out < bytes.length) bytes[out++] = word & 255;
  }
  return bytes;
}

function base64FromBytes(bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let i = 0; i < bytes.length; i += 3) {
    const word = (bytes[i] << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    const left = bytes.length - i;
    parts.push(
      ALPHABET[word >> 18] +
        ALPHABET[(word >> 12) & 63] +
        (left > 1 ? ALPHABET[(word >> 6) & 63] : '=') +
        (left > 2 ? ALPHABET[word & 63] : '='),
    );
  }
  return parts.join('');
}
