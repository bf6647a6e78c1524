import { z } from 'zod';
import { confidence, found, number } from '../../documentParts';

export const widthSchema = z.object({
  correlation: found,
  monoBelowHz: found,
  /** What makes it wide. */
  cause: z.enum(['detune', 'delay', 'reverb', 'panning']).nullable(),
  /** Of a delay between the channels; positive when the right one is late. */
  delaySeconds: found,
  bands: z.array(z.object({ fromHz: number, toHz: number, widthDb: number })),
  confidence,
});
