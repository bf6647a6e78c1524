import { z } from 'zod';
import { confidence, found } from '../../documentParts';

export const noiseSchema = z.object({
  levelDb: found,
  centroidHz: found,
  attackOnly: z.boolean().nullable(),
  confidence,
});
