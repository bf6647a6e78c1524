import { z } from 'zod';
import { candidatePictureSchema } from '@imprint/core/matching/candidatePicture';
import { stages } from '@imprint/core/matching/explain/hypothesis';
import { candidateKinds, structures } from '@imprint/core/matching/structure';
import { packedPatchSchema } from '@imprint/core/patch/contents/packing';
import { phraseNoteSchema } from './api';
import { date, id, revisionNumber, shown } from './parts';

/** Matches, as page and server tell each other of them. */

export const runStates = ['waiting', 'running', 'done', 'cancelled', 'failed'] as const;
/** Longest search that can be asked for, seconds. */
export const MAX_BUDGET_SECONDS = 3600;

/** What a match is to do. */
const runSettingsSchema = z.object({
  /** Cuts of one tone; the first is the one that is rebuilt, the others tell how it changes with the key. */
  cutIds: z.array(id).min(1).max(8),
  structure: z.enum(structures),
  /** Stages that are turned; all of them where none is named. */
  only: z.array(z.enum(stages)),
  /** Modules, or `module.parameter`, that stay as they are. */
  locks: z.array(z.string().max(100)).max(1000),
  budgetSeconds: z.number().min(1).max(MAX_BUDGET_SECONDS),
  seed: z.int().min(1),
});
export const newRunSchema = runSettingsSchema.partial({ only: true, locks: true, seed: true }).extend({
  /** The page chooses it, so that asking twice gives one run. */
  id: id.optional(),
  /** Where to start in place of nothing. */
  fromPatch: packedPatchSchema.nullable().default(null),
});

/** The distance of the best patch after so many seconds. */
const curvePointSchema = z.object({ seconds: z.number(), overallJnd: z.number(), stage: z.string() });

/** A match as a list shows it: without patches. */
export const runSchema = runSettingsSchema.extend({
  id,
  studyId: id,
  /** Counts what became known of it. */
  revision: revisionNumber,
  state: z.enum(runStates),
  startsFromPatch: z.boolean(),
  stage: z.string(),
  /** 0..1 of its budget. */
  fraction: z.number(),
  renders: z.int(),
  seconds: z.number(),
  curve: z.array(curvePointSchema),
  /** Of the best so far; null before there is one. */
  overallJnd: z.number().nullable(),
  /** Why the first candidate is recommended, where that is not plain. */
  recommendation: z.string(),
  failure: z.string().nullable(),
  createdAt: date,
  endedAt: date.nullable(),
});

export const candidateSchema = z.object({
  id,
  name: shown,
  kind: z.enum(candidateKinds),
  overallJnd: z.number(),
  settings: z.int(),
  /** A sentence a module. */
  why: z.array(z.string()),
  /** Mean spectra of the cut and of the print at equal loudness, dB. */
  picture: candidatePictureSchema,
  patch: packedPatchSchema,
});

/** A match with what it found, the recommended candidate first. */
export const runResultSchema = z.object({
  run: runSchema,
  /** The best so far; null before there is one. */
  best: packedPatchSchema.nullable(),
  /** Of the cut, to play a patch over it; none until it is measured. */
  notes: z.array(phraseNoteSchema),
  candidates: z.array(candidateSchema),
});

/** What is told of runs while a page listens. */
export const runEventSchema = z.object({
  runs: z.array(runSchema),
  /** Runs that can be worked on at once, on all machines; 0 where none works. */
  slots: z.int(),
});

export type Run = z.infer<typeof runSchema>;
export type RunSettings = z.infer<typeof runSettingsSchema>;
export type NewRun = z.input<typeof newRunSchema>;
export type RunCandidate = z.infer<typeof candidateSchema>;
export type RunResult = z.infer<typeof runResultSchema>;
export type RunEvent = z.infer<typeof runEventSchema>;
