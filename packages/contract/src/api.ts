import { z } from 'zod';
import { comparisonSchema } from '@imprint/core/matching/comparison';
import { MAX_EFFECTS, effectSchema } from '@imprint/core/patch/schemas/effectSchema';
import { freeText } from '@imprint/core/patch/names';
import { contentSchema, packedPatchSchema } from '@imprint/core/patch/contents/packing';
import { gridSchema } from '@imprint/core/reading/piece/grid';
import { isolationSchema } from '@imprint/core/reading/isolation/settings';
import { cutRoles } from '@imprint/core/reading/cuts/cutRole';
import { overrulesSchema } from '@imprint/core/reading/hand/overrules';
import { overviewSchema } from '@imprint/core/reading/piece/overview';
import { noteSchema, readingSchema } from '@imprint/core/reading/schema';
import { date, id, revisionNumber, shown, title } from './parts';

/** Everything that passes between the page and the server, checked on both sides. */

export const toneRoles = ['bass', 'lead', 'pad', 'pluck'] as const;

const notice = z.string().nullable();
const seconds = z.number().min(0).max(3600);

export const referenceSchema = z.object({
  id,
  fileName: shown,
  format: shown,
  sha256: z.string(),
  byteLength: z.int(),
  durationSeconds: z.number(),
  sampleRateHz: z.int(),
  channels: z.int(),
  /** What was done to its sound when it was read, and has to be told. */
  notice,
});

/** Chosen by who made the last change; null for those that named none. */
const savedAs = id.nullable();
/** On which state a change was made, and which it is: the same one sent twice is made once. */
const change = { revision: revisionNumber.optional(), saveId: id.optional() };

export const studySchema = z.object({
  id,
  revision: revisionNumber,
  saveId: savedAs,
  title: shown,
  note: shown,
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
/** All fields of a cut as it can be kept. */
export const wholeCutSchema = cutFieldsSchema.and(span);
export const cutSchema = cutFieldsSchema.extend({
  id,
  name: shown,
  revision: revisionNumber,
  saveId: savedAs,
});

export const newCutSchema = cutFieldsSchema
  .extend({
    /** The page may choose it, so that asking twice gives one cut. */
    id: id.optional(),
    isolation: isolationSchema.nullable().default(null),
    notes: z.array(noteSchema).nullable().default(null),
    overrules: overrulesSchema.default({}),
  })
  .and(span);
export const changedCutSchema = cutFieldsSchema.partial().extend(change);

/** A reading is kept with the span that it was made of, so that a moved cut does not show an old one. */
export const keptReadingSchema = z.object({ fromSeconds: seconds, toSeconds: seconds, reading: readingSchema });

/** Longest note of a study. */
export const MAX_NOTE = 2000;

export const changedStudySchema = z
  .object({ title, note: freeText(MAX_NOTE), grid: gridSchema.nullable() })
  .partial()
  .extend(change);

export const phraseNoteSchema = z.object({
  onsetSeconds: z.number().min(0),
  durationSeconds: z.number().min(0),
  midi: z.number().min(0).max(127),
  velocity: z.number().min(1).max(127),
});

export const revisionSchema = z.object({
  id,
  number: z.int(),
  name: z.string().nullable(),
  saveId: savedAs,
  /** What changed since the one before it, in words; null for those of old, and where nothing did. */
  summary: z.string().nullable(),
  /** Pinned ones are kept for good, as are named ones and the first. */
  pinned: z.boolean(),
  createdAt: date,
});

/** A name or a pin for a revision that is there. */
export const changedRevisionSchema = z
  .object({ name: title.nullable(), pinned: z.boolean() })
  .partial()
  .refine((fields) => Object.keys(fields).length > 0, { message: 'A revision gets a "name" or is "pinned".' });

/** Changes of a packed patch as JSON Patch (RFC 6902). */
export const patchChangesSchema = z
  .array(
    z.object({
      op: z.enum(['add', 'remove', 'replace']),
      path: z.string().startsWith('/').max(400),
      value: z.unknown().optional(),
    }),
  )
  .max(50_000);

/** A state of the patch to keep: whole, or what changed since the revision that it is based on. */
export const newRevisionSchema = z
  .object({
    /** Chosen by who saves: the same one twice is one saving. */
    saveId: id,
    /** Number of the revision that it was made on; null when there was none. */
    base: z.int().min(1).nullable(),
    patch: packedPatchSchema.optional(),
    changes: patchChangesSchema.optional(),
    name: title.nullable().default(null),
  })
  .refine(({ patch, changes }) => (patch === undefined) !== (changes === undefined), {
    message: 'A saving has either "patch" or "changes".',
  })
  .refine(({ base, changes }) => changes === undefined || base !== null, {
    message: '"changes" need the number of the revision that they change, in "base".',
  });
export const keptPatchSchema = z.object({ revision: revisionSchema, patch: packedPatchSchema });

/** Bytes of tables and samples that the server lacks, of those that were asked for. */
export const wantedContentsSchema = z.object({ sha256s: z.array(contentSchema.shape.sha256).max(64) });
export const missingContentsSchema = z.object({ missing: z.array(contentSchema.shape.sha256) });

/** A study made from another: the same reference and cuts, and a patch of its own. */
export const copyStudySchema = z.object({ title, patch: packedPatchSchema });

/** A window that has a study open tells so now and then, and learns what the others did. */
export const windowSchema = z.object({ windowId: id });
export const pulseSchema = z.object({
  /** Other windows that have the study open. */
  others: z.int(),
  /** Number of the patch's newest revision; null before the first. */
  revision: z.int().nullable(),
});

export const newProofSchema = z.object({
  name: title,
  cutId: id,
  patch: packedPatchSchema,
  notes: z.array(phraseNoteSchema).max(2000),
  comparison: comparisonSchema,
});

export const proofSchema = z.object({
  id,
  name: shown,
  cutId: id.nullable(),
  createdAt: date,
  comparison: comparisonSchema,
  byteLength: z.int(),
});

export const keptProofSchema = proofSchema.extend({ patch: packedPatchSchema, notes: z.array(phraseNoteSchema) });

export const openedStudySchema = z.object({
  study: studySchema,
  cuts: z.array(cutSchema),
  proofs: z.array(proofSchema),
  patch: keptPatchSchema.nullable(),
  /** What is told of the whole reference; null until it was worked out. */
  overview: overviewSchema.nullable(),
});

/**
 * A chain of effects on the shelf; its effects keep the ids of the patch that they came from, which mean
 * nothing here.
 */
export const newShelvedChainSchema = z.object({
  name: title,
  /** What it is for. */
  purpose: z.string().trim().pipe(freeText(200)),
  effects: z.array(effectSchema).min(1, 'A chain needs at least one effect.').max(MAX_EFFECTS),
});
export const shelvedChainSchema = newShelvedChainSchema.extend({ id, name: shown, purpose: shown, createdAt: date });

export const trashKinds = ['study', 'cut', 'proof'] as const;
/** Days that what was deleted can be put back. */
export const TRASH_DAYS = 30;
export const trashItemSchema = z.object({
  kind: z.enum(trashKinds),
  id,
  name: shown,
  /** The study that it is of; its own for a study. */
  studyTitle: shown,
  deletedAt: date,
});

/** What an archive held that was brought back. */
export const broughtBackSchema = z.object({
  studies: z.int(),
  cuts: z.int(),
  revisions: z.int(),
  proofs: z.int(),
});
/** Whether what an archive replaced is still there, and since when. */
export const replacedSchema = z.object({ replacedAt: date.nullable() });

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
  'tooSlow',
  'notSupported',
  'internal',
  'away',
  'diskFull',
] as const;
export const errorSchema = z.object({
  error: z.object({
    code: z.enum(errorCodes),
    message: z.string(),
    /** Number under which the server wrote down what went wrong inside it. */
    fault: z.string().optional(),
    /** For a conflict: the present state of what was to be changed. */
    current: z.unknown().optional(),
  }),
});

export type Study = z.infer<typeof studySchema>;
export type Reference = z.infer<typeof referenceSchema>;
export type Cut = z.infer<typeof cutSchema>;
export type CutFields = z.infer<typeof cutFieldsSchema>;
export type NewCut = z.input<typeof newCutSchema>;
export type OpenedStudy = z.infer<typeof openedStudySchema>;
export type KeptReading = z.infer<typeof keptReadingSchema>;
export type PatchChanges = z.infer<typeof patchChangesSchema>;
export type Pulse = z.infer<typeof pulseSchema>;
export type TrashItem = z.infer<typeof trashItemSchema>;
export type TrashKind = (typeof trashKinds)[number];
export type BroughtBack = z.infer<typeof broughtBackSchema>;
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

/** Largest request that is no file: of a patch without its tables and samples, or of a reading. */
export const MAX_JSON_BYTES = 20_000_000;

/** Largest table or sample: 30 s of stereo at 192 kHz and 16 bit. */
export const MAX_CONTENT_BYTES = 24_000_000;
