import { InputError } from '../patch/inputError';
import { FRAME_SAMPLES, type Wavetable } from '../patch/schema';
import { framesOf, wavetableFromSamples } from '../patch/contents/wavetableFrames';
import type { Audio } from '../reading/audio';
import { writeWav } from './wav';

/** Rate written into the file; a wavetable has none of its own. */
const NOMINAL_RATE_HZ = 44100;

/** A wavetable as a plain mono WAV of 32-bit floats: frames of 2048 samples, one after the other. */
export function writeWavetable(table: Wavetable): Uint8Array {
  return writeWav({ channels: [framesOf(table)], sampleRateHz: NOMINAL_RATE_HZ }, 'float32');
}

const MAX_FRAMES = 256;

/**
 * A wavetable from a decoded WAV of frames of 2048 samples, one after the other.
 * Throws an InputError when the length is no whole number of frames, or more than 256.
 */
export function readWavetable({ channels: [samples] }: Audio, id: string, name: string): Wavetable {
  const frames = samples.length / FRAME_SAMPLES;
  if (!Number.isInteger(frames) || frames < 1 || frames > MAX_FRAMES) {
    throw new InputError(
      `“${name}” has ${samples.length} samples; a wavetable is 1 to ${MAX_FRAMES} frames of ${FRAME_SAMPLES} samples each.`,
    );
  }
  return wavetableFromSamples(id, name, samples);
}
