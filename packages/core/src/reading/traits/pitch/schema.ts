import { z } from 'zod';
import { confidence, found, number, series } from '../../documentParts';

export const pitchSchema = z.object({
  f0Hz: found,
  midi: z.int().nullable(),
  cents: found,
  vibrato: z.object({ rateHz: number, depthCents: number, onsetSeconds: number }).nullable(),
  sweep: z.object({ semitones: number, seconds: number }).nullable(),
  /** From note to note of a line, the whole way. */
  glideSeconds: found,
  /** From the first to the last third of a note, once it has settled. */
  driftCents: found,
  /** Fundamental over time, Hz. */
  contour: series,
  confidence,
});
