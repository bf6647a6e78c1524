import { z } from 'zod';
import { confidence, found } from '../../documentParts';

/** Sidebands at the same distance from every partial: the tone was multiplied by a sine. */
export const ringSchema = z.object({
  rateHz: found,
  /** Whether the partials themselves are left (`am`) or gone (`ring`). */
  kind: z.enum(['ring', 'am']).nullable(),
  /** Sidebands against the partials between them, dB; null where there are none. */
  sidebandsDb: found,
  confidence,
});
