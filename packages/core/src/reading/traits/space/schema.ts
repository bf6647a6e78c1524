import { z } from 'zod';
import { confidence, found, number } from '../../documentParts';

export const spaceSchema = z.object({
  rt60Seconds: found,
  preDelaySeconds: found,
  echo: z.object({ seconds: number, division: z.string().nullable(), feedback: number }).nullable(),
  confidence,
});
