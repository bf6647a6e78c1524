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
  /** Pitch of the note, with glide and bend. */
  midi: number;
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

/**
 * The part of a route from the place among unison voices (−1..1 or 0..1), which each voice of a source reads
 * for itself.
 */
export interface UnisonRoute {
  target: 'semitones' | 'levelDb' | 'pan';
  amount: number;
  bipolar: boolean;
}
