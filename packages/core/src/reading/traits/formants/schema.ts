import { z } from 'zod';
import { confidence, number } from '../../documentParts';

/** Resonances that do not follow the pitch. */
export const formantsSchema = z.object({
  peaks: z
    .array(
      z.object({
        /** Where it stands at the beginning and at the end of the note. */
        fromHz: number,
        toHz: number,
        /** Over the lowest of what is around, of the partials without a saw's own fall, dB. */
        prominenceDb: number,
      }),
    )
    .max(6),
  confidence,
});
