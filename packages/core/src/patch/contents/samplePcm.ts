import { base64FromBytes, bytesFromBase64 } from './base64';
import { InputError } from '../inputError';
import { MAX_SAMPLE_SECONDS, type Sample } from '../schema';

const FULL_SCALE = 32767;

/**
 * The channels of a sample, full scale ±1.
 * Throws an InputError when it is empty, longer than 30 s, or its bytes are not whole frames.
 */
export function pcmOf(sample: Sample): Float32Array[] {
  const { channels } = sample;
  const bytes = bytesFromBase64(sample.pcmBase64);
  const frames = framesOfPcm(sample, bytes.length);
  const view = new DataView(bytes.buffer);
  return Array.from({ length: channels }, (_, channel) =>
    Float32Array.from({ length: frames }, (_, i) => view.getInt16(2 * (i * channels + channel), true) / FULL_SCALE),
  );
}

/** Frames in so many bytes of a sample. Throws an InputError as `pcmOf` does. */
export function framesOfPcm({ name, channels, sampleRateHz }: Omit<Sample, 'pcmBase64'>, byteLength: number): number {
  const frames = byteLength / 2 / channels;
  if (frames === 0 || !Number.isInteger(frames)) {
    throw new InputError(`Sample "${name}" holds ${byteLength} bytes, which is no whole number of 16-bit frames.`);
  }
  if (frames > MAX_SAMPLE_SECONDS * sampleRateHz) {
    throw new InputError(
      `Sample "${name}" is ${(frames / sampleRateHz).toFixed(1)} s long; the most is ${MAX_SAMPLE_SECONDS} s.`,
    );
  }
  return frames;
}

/** A sample document from sound; louder peaks than full scale are clipped. */
export function sampleFromChannels(
  id: string,
  name: string,
  sampleRateHz: number,
  channels: readonly Float32Array[],
): Sample {
  const frames = channels[0].length;
  const bytes = new Uint8Array(2 * frames * channels.length);
  const view = new DataView(bytes.buffer);
  channels.forEach((channel, c) => {
    for (let i = 0; i < frames; i++) {
      const value = Math.round(FULL_SCALE * Math.max(-1, Math.min(1, channel[i])));
      view.setInt16(2 * (i * channels.length + c), value, true);
    }
  });
  return { id, name, sampleRateHz, channels: channels.length, pcmBase64: base64FromBytes(bytes) };
}
