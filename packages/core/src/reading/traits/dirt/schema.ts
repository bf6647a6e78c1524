import { z } from 'zod';
import { confidence, found } from '../../documentParts';

export const dirtSchema = z.object({
  kind: z.enum(['none', 'soft', 'hard', 'fold', 'crush']).nullable(),
  amount: found,
  bits: found,
  holdHz: found,
  confidence,
});
