import { z } from 'zod';
import { confidence, found, number } from '../../documentParts';

export const spaceSchema = z.object({
  rt60Seconds: found,
  preDelaySeconds: found,
  /** Of a tone that is held, its room against the tone itself. */
  roomDb: found,
  echo: z
    .object({
      seconds: number,
      division: z.string().nullable(),
      /** Amplitude of every repeat against the one before. */
      feedback: number,
      /** The first repeat against the tone. */
      levelDb: number,
      /** Whether repeats come from one side and the other by turns. */
      changesSides: z.boolean(),
    })
    .nullable(),
  confidence,
});
