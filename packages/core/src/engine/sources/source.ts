import { gainFromDecibels } from '../../dsp/decibels';
import { SILENT_DB } from '../../parameters/build';

/**
 * Samples of a block of the engine. A note goes through it in one step or several; within a step values run
 * in straight lines.
 */
export const BLOCK_SAMPLES = 128;

/** What the sources of a voice share: the note's present values, and where they write. */
export interface SourceContext {
  sampleRateHz: number;
  /** Values of all parameters at `to`, as are pitch and time. */
  values: Float64Array;
  /** Pitch of the note, with glide, bend and the layer's own. */
  midi: number;
  /** What the layer adds to the spread of every source, in cents. */
  detuneCents: number;
  /** The note as it was struck, for its random numbers. */
  seed: number;
  /** Time since note-on. */
  seconds: number;
  /** Samples of the block that are to be filled. */
  from: number;
  to: number;
  /** How many times the plain rate the fine sources of the note run at. */
  rate: number;
  /** Where the source is added up; the same array twice while the layer is in the middle. */
  left: Float64Array;
  right: Float64Array;
}

/** Slots of how loud a source is. */
export interface LevelSlots {
  levelDb: number;
  letThrough: number;
}

/** Gain of a source by its level and by how much of it is let through. */
export function sourceGain(on: boolean, slots: LevelSlots, values: Float64Array): number {
  const levelDb = values[slots.levelDb];
  return on && levelDb > SILENT_DB ? gainFromDecibels(levelDb) * (values[slots.letThrough] / 100) : 0;
}

/**
 * The part of a route from the place among unison voices (−1..1 or 0..1), which each voice of a source reads
 * for itself.
 */
export interface UnisonRoute {
  target: 'semitones' | 'levelDb' | 'pan';
  amount: number;
  bipolar: boolean;
}
