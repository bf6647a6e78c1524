import { z } from 'zod';
import { confidence, found, number } from '../../documentParts';

export const unisonSchema = z.object({
  detuneCents: found,
  beatHz: found,
  voices: found,
  /**
   * Power around the partials by distance in cents, dB against the strongest, what they agree on; empty when
   * not looked at.
   */
  spectrum: z.object({ fromCents: number, stepCents: z.number().positive(), levelsDb: z.array(number).max(400) }),
  confidence,
});
