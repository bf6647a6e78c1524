import { z } from 'zod';
import { type Patch, patchSchema, sampleSchema, wavetableSchema } from '../schema';

/**
 * A patch whose tables and samples are kept elsewhere, once, under the hash of their bytes: so that it stays
 * small however much it plays.
 */
export const contentSchema = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/, 'A hash is 64 hexadecimal digits.'),
  byteLength: z.int().min(1),
});

export const packedPatchSchema = patchSchema.extend({
  wavetables: z.array(wavetableSchema.omit({ framesBase64: true }).extend({ frames: contentSchema })).max(16),
  samples: z
    .array(sampleSchema.omit({ pcmBase64: true }).extend({ pcm: contentSchema }))
    .max(16)
    .default([]),
});

export type Content = z.infer<typeof contentSchema>;
export type PackedPatch = z.infer<typeof packedPatchSchema>;

/** All that a packed patch plays from elsewhere. */
export const contentsOf = ({ wavetables, samples }: PackedPatch): Content[] => [
  ...wavetables.map(({ frames }) => frames),
  ...samples.map(({ pcm }) => pcm),
];

/** The bytes of tables and samples in a patch, as they stand in it. */
export const base64sOf = ({ wavetables, samples }: Patch): string[] => [
  ...wavetables.map(({ framesBase64 }) => framesBase64),
  ...samples.map(({ pcmBase64 }) => pcmBase64),
];

/** @param contentOf tells what the bytes in a piece of base64 are kept as */
export function packPatch(patch: Patch, contentOf: (base64: string) => Content): PackedPatch {
  return {
    ...patch,
    wavetables: patch.wavetables.map(({ framesBase64, ...table }) => ({ ...table, frames: contentOf(framesBase64) })),
    samples: patch.samples.map(({ pcmBase64, ...sample }) => ({ ...sample, pcm: contentOf(pcmBase64) })),
  };
}

/** @param base64Of gives the bytes that are kept under a hash */
export function unpackPatch(packed: PackedPatch, base64Of: (sha256: string) => string): Patch {
  return {
    ...packed,
    wavetables: packed.wavetables.map(({ frames, ...table }) => ({ ...table, framesBase64: base64Of(frames.sha256) })),
    samples: packed.samples.map(({ pcm, ...sample }) => ({ ...sample, pcmBase64: base64Of(pcm.sha256) })),
  };
}
