import { z } from 'zod';
import { confidence, found, number } from '../../documentParts';

/** Plain waveforms that add up to the partials, behind one low-pass. */
export const sourcesSchema = z.object({
  parts: z
    .array(
      z.object({
        shape: z.enum(['sine', 'triangle', 'saw', 'square', 'pulse']),
        pulseWidth: found,
        /** From the tone's pitch; under 0 for a sub. */
        semitones: number,
        /** Against the loudest part, as it is heard. */
        levelDb: number,
      }),
    )
    .max(9),
  /** What they leave of the partials' levels. */
  errorDb: found,
  confidence,
});
