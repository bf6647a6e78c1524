import type { Wavetable } from '../patch/schema';
import { framesOf } from '../patch/wavetableFrames';
import { writeWav } from './wav';

/** Rate written into the file; a wavetable has none of its own. */
const NOMINAL_RATE_HZ = 44100;

/** A wavetable as a plain mono WAV of 32-bit floats: frames of 2048 samples, one after the other. */
export function writeWavetable(table: Wavetable): Uint8Array {
  return writeWav({ channels: [framesOf(table)], sampleRateHz: NOMINAL_RATE_HZ }, 'float32');
}
