import type { Stft } from '../../dsp/stft';
import type { ReadingNote } from '../schema';
import type { Isolation } from './settings';

/** What masks are made from. Levels and masks have one value a frame and bin, frame by frame. */
export interface MaskInput {
  isolation: Isolation;
  sampleRateHz: number;
  /** One or two channels. */
  spectra: readonly Stft[];
  /** Magnitude of all channels together. */
  levels: Float32Array;
  /** Notes with times from the start of the spectra. */
  notes: readonly ReadingNote[];
  /** Times at which something starts, in the same time. */
  onsets: readonly number[];
}

/** One way of keeping a part: multiplies `mask`, 0..1, by what it keeps of every frame and bin. */
export interface Mask {
  isWanted(isolation: Isolation): boolean;
  apply(input: MaskInput, mask: Float32Array): void;
}
