import { z } from 'zod';
import { confidence, found, series } from '../../documentParts';

export const loudnessSchema = z.object({
  lufs: found,
  peakDb: found,
  crestDb: found,
  onsetSeconds: found,
  /** Whether the tone sounds from the first sample on: it was struck before the cut. */
  startsSounding: z.boolean(),
  attackSeconds: found,
  holdSeconds: found,
  decaySeconds: found,
  sustainDb: found,
  noteOffSeconds: found,
  releaseSeconds: found,
  /** RMS of the fitted contour at its full level, dB. */
  fullLevelDb: found,
  fitErrorDb: found,
  /** RMS level over time, dB. */
  contour: series,
  confidence,
});
