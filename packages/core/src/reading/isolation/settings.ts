import { z } from 'zod';

const hz = z.number().min(20).max(20000);
const pan = z.number().min(-100).max(100);

/**
 * What of a cut is kept; the rest is left out. All of it acts together.
 */
export const isolationSchema = z.object({
  /** Frequencies between two edges. */
  band: z
    .object({ fromHz: hz, toHz: hz })
    .refine(({ fromHz, toHz }) => toHz > fromHz, { message: 'The upper edge of the band lies over the lower one.' })
    .nullable(),
  /**
   * Everything, what both sides share, what they do not, or what stands between two places (−100 left, 100
   * right).
   */
  place: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('all') }),
    z.object({ kind: z.literal('mid') }),
    z.object({ kind: z.literal('side') }),
    z
      .object({ kind: z.literal('range'), fromPan: pan, toPan: pan })
      .refine(({ fromPan, toPan }) => toPan > fromPan, { message: 'The range ends to the right of where it begins.' }),
  ]),
  /** What goes on in time, or what stands at one moment across frequencies. */
  character: z.enum(['all', 'tonal', 'percussive']),
  /** Only the partials of the notes that were found. */
  partialsOnly: z.boolean(),
  /** With the partials, what sounds an octave under each note, too: a sub is of no note of its own. */
  withSub: z.boolean().optional(),
  /** Hits that are no note's own onset are taken down to what sounds around them. */
  hitsDown: z.boolean(),
});

export type Isolation = z.infer<typeof isolationSchema>;

export const NO_ISOLATION: Isolation = {
  band: null,
  place: { kind: 'all' },
  character: 'all',
  partialsOnly: false,
  withSub: false,
  hitsDown: false,
};

export const isolates = ({ band, place, character, partialsOnly, hitsDown }: Isolation): boolean =>
  band !== null || place.kind !== 'all' || character !== 'all' || partialsOnly || hitsDown;
