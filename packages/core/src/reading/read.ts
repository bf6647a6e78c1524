import { type Audio, durationOf } from './audio';
import { suggestLayers } from './cuts/layerSuggestion';
import type { FittedContour } from './level/fittedContour';
import type { LevelContour } from './level/levelContour';
import { type ReadingContext, gather } from './material';
import type { PartialFrames } from './partials/partialFrames';
import type { Fundamental } from './pitch/fundamental';
import { READING_VERSION, type Reading } from './schema';
import type { FilterTrack } from './spectra/filterTrack';
import { doubtsOf, measureTraits } from './traits';

export type { ReadingContext };

/** Everything measured from a cut: the reading, and the raw material that a first patch is made of. */
export interface Measurement {
  reading: Reading;
  mono: Float64Array;
  fundamental: Fundamental | undefined;
  level: LevelContour;
  fitted: FittedContour;
  partials: PartialFrames | undefined;
  filter: FilterTrack | undefined;
}

/**
 * Measures one cut.
 *
 * @param onProgress called with 0..1; throwing from it cancels
 */
export function measure(
  audio: Audio,
  onProgress: (fraction: number) => void = () => {},
  context: ReadingContext = {},
): Measurement {
  const material = gather(audio, onProgress, context);
  const { notes, piece, fromSeconds, mono, fundamental, level, fitted, partials, filter } = material;
  const traits = measureTraits(material);
  const unsure = {
    version: READING_VERSION as typeof READING_VERSION,
    durationSeconds: durationOf(audio),
    sampleRateHz: audio.sampleRateHz,
    channels: audio.channels.length,
    tempo: piece.tempo,
    key: piece.key,
    notes,
    traits,
    layers: notes.length === 1 ? suggestLayers(audio, traits, fromSeconds) : [],
  };
  const reading: Reading = { ...unsure, doubts: doubtsOf(unsure) };
  onProgress(1);
  return { reading, mono, fundamental, level, fitted, partials, filter };
}

/** All traits of a cut. See `measure`. */
export const readTone = (audio: Audio, onProgress?: (fraction: number) => void, context?: ReadingContext): Reading =>
  measure(audio, onProgress, context).reading;
