import { z } from 'zod';
import { freeText } from '@imprint/core/patch/names';
import { date, id, shown } from './parts';

/** Blind tests, as page and server tell each other of them. */

export const trialSchema = z.object({ isPatch: z.boolean(), saidPatch: z.boolean() });
/** Most trials of one blind test. */
export const MAX_TRIALS = 100;
export const newBlindTestSchema = z.object({
  /** The page chooses it, so that asking twice gives one test. */
  id,
  /** What is compared with the reference, in words. */
  what: z.string().trim().pipe(freeText(200)),
  planned: z.int().min(1).max(MAX_TRIALS),
});
/**
 * All answers of a test so far, in order. What is kept already stays; what comes after it is added. So an
 * answer needs none before it to have arrived.
 */
export const answersSchema = z.object({ trials: z.array(trialSchema).min(1).max(MAX_TRIALS) });
export const blindTestSchema = newBlindTestSchema.extend({
  what: shown,
  trials: z.array(trialSchema),
  createdAt: date,
});

export type BlindTest = z.infer<typeof blindTestSchema>;
export type NewBlindTest = z.infer<typeof newBlindTestSchema>;
