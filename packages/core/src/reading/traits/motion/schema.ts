import { z } from 'zod';
import { confidence, number } from '../../documentParts';

export const motionSchema = z.array(
  z.object({
    of: z.enum(['loudness', 'brightness', 'pitch', 'width']),
    rateHz: number,
    division: z.string().nullable(),
    /** From its lowest to its highest; of vibrato, to either side. */
    depth: number,
    unit: z.enum(['dB', 'octaves', 'cents', 'ms', '%']),
    /**
     * What it goes round: Hz of a cutoff, ms of a delay, % of a period; of loudness Hz under which alone it
     * moves; null where that is not told.
     */
    middle: number.nullable(),
    /** Where its sine stands as the note begins, cycles; null where that is not told. */
    startCycles: number.nullable(),
    shape: z.string(),
    cause: z.enum(['tremolo', 'ducking', 'chorus', 'phaser', 'filter', 'notch', 'vibrato', 'beating', 'pulseWidth']),
    confidence,
  }),
);
