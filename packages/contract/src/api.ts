import { z } from 'zod';
import { comparisonSchema } from '@imprint/core/matching/gaps';
import { MAX_EFFECTS, effectSchema } from '@imprint/core/patch/effectSchema';
import { patchSchema } from '@imprint/core/patch/schema';
import { gridSchema } from '@imprint/core/reading/grid';
import { isolationSchema } from '@imprint/core/reading/isolation/settings';
import { cutRoles } from '@imprint/core/reading/cutRole';
import { overrulesSchema } from '@imprint/core/reading/overrules';
import { overviewSchema } from '@imprint/core/reading/overview';
import { noteSchema, readingSchema } from '@imprint/core/reading/schema';

/** Everything that passes between the page and the server, checked on both sides. */

export const toneRoles = ['bass', 'lead', 'pad', 'pluck'] as const;

const id = z.uuid();
const title = z.string().trim().min(1, 'A name needs at least one character.').max(120);
const seconds = z.number().min(0).max(3600);
const date = z.string();

export const referenceSchema = z.object({
  id,
  fileName: z.string(),
  format: z.string(),
  sha256: z.string(),
  byteLength: z.int(),
  durationSeconds: z.number(),
  sampleRateHz: z.int(),
  channels: z.int(),
});

export const studySchema = z.object({
  id,
  title,
  note: z.string().max(2000),
  role: z.enum(toneRoles).nullable(),
  demo: z.boolean(),
  /** Beats as set by hand; null for those that were found. */
  grid: gridSchema.nullable(),
  createdAt: date,
  updatedAt: date,
  reference: referenceSchema,
  /** Of the newest proof. */
  overallJnd: z.number().nullable(),
  cutCount: z.int(),
});

const span = z
  .object({ fromSeconds: seconds, toSeconds: seconds })
  .refine(({ fromSeconds, toSeconds }) => toSeconds - fromSeconds >= 0.05, {
    message: 'A cut is at least 50 ms long.',
  });

export const cutFieldsSchema = z.object({
  name: title,
  role: z.enum(cutRoles),
  ...span.shape,
  /** What of it is kept; null for all of it. */
  isolation: isolationSchema.nullable(),
  /** Its notes as corrected by hand, from its start; null for those that are found. */
  notes: z.array(noteSchema).max(4000).nullable(),
  /** What was measured of it, as set by hand. */
  overrules: overrulesSchema,
});
export const cutSchema = cutFieldsSchema.extend({ id });

export const newCutSchema = cutFieldsSchema
  .extend({
    isolation: isolationSchema.nullable().default(null),
    notes: z.array(noteSchema).nullable().default(null),
    overrules: overrulesSchema.default({}),
  })
  .and(span);
export const changedCutSchema = cutFieldsSchema.partial();

/** A reading is kept with the span that it was made of, so that a moved cut does not show an old one. */
export const keptReadingSchema = z.object({ fromSeconds: seconds, toSeconds: seconds, reading: readingSchema });

export const changedStudySchema = z
  .object({ title, note: z.string().max(2000), grid: gridSchema.nullable() })
  .partial();

export const phraseNoteSchema = z.object({
  onsetSeconds: z.number().min(0),
  durationSeconds: z.number().min(0),
  midi: z.number().min(0).max(127),
  velocity: z.number().min(1).max(127),
});

export const revisionSchema = z.object({ id, number: z.int(), name: z.string().nullable(), createdAt: date });
export const newRevisionSchema = z.object({ patch: patchSchema, name: title.nullable().default(null) });
export const keptPatchSchema = z.object({ revision: revisionSchema, patch: patchSchema });

export const newProofSchema = z.object({
  name: title,
  cutId: id,
  patch: patchSchema,
  notes: z.array(phraseNoteSchema).max(2000),
  comparison: comparisonSchema,
});

export const proofSchema = z.object({
  id,
  name: title,
  cutId: id.nullable(),
  createdAt: date,
  comparison: comparisonSchema,
  byteLength: z.int(),
});

export const keptProofSchema = proofSchema.extend({ patch: patchSchema, notes: z.array(phraseNoteSchema) });

export const openedStudySchema = z.object({
  study: studySchema,
  cuts: z.array(cutSchema),
  proofs: z.array(proofSchema),
  patch: keptPatchSchema.nullable(),
  /** What is told of the whole reference; null until it was worked out. */
  overview: overviewSchema.nullable(),
});

/** A chain of effects on the shelf; its effects keep the ids of the patch that they came from, which mean nothing here. */
export const newShelvedChainSchema = z.object({
  name: title,
  /** What it is for. */
  purpose: z.string().trim().max(200),
  effects: z.array(effectSchema).min(1, 'A chain needs at least one effect.').max(MAX_EFFECTS),
});
export const shelvedChainSchema = newShelvedChainSchema.extend({ id, createdAt: date });

export const uploadedSchema = z.object({
  study: studySchema,
  /** The same bytes were here before; the study is the earlier one. */
  alreadyKnown: z.boolean(),
});

export const errorCodes = [
  'badRequest',
  'notFound',
  'badFile',
  'tooLarge',
  'forbidden',
  'conflict',
  'internal',
] as const;
export const errorSchema = z.object({ error: z.object({ code: z.enum(errorCodes), message: z.string() }) });

export type Study = z.infer<typeof studySchema>;
export type Reference = z.infer<typeof referenceSchema>;
export type Cut = z.infer<typeof cutSchema>;
export type CutFields = z.infer<typeof cutFieldsSchema>;
export type NewCut = z.input<typeof newCutSchema>;
export type OpenedStudy = z.infer<typeof openedStudySchema>;
export type KeptReading = z.infer<typeof keptReadingSchema>;
export type KeptPatch = z.infer<typeof keptPatchSchema>;
export type Revision = z.infer<typeof revisionSchema>;
export type Proof = z.infer<typeof proofSchema>;
export type KeptProof = z.infer<typeof keptProofSchema>;
export type NewProof = z.infer<typeof newProofSchema>;
export type NewShelvedChain = z.input<typeof newShelvedChainSchema>;
export type ShelvedChain = z.infer<typeof shelvedChainSchema>;
export type ErrorCode = (typeof errorCodes)[number];

/** Largest upload: fifteen minutes of 192 kHz stereo at 32 bit, and room for its header. */
export const MAX_UPLOAD_BYTES = 1_400_000_000;
