import { z } from 'zod';
import { confidence, found, number } from './documentParts';
import { brightnessSchema } from './traits/brightness/schema';
import { dirtSchema } from './traits/dirt/schema';
import { loudnessSchema } from './traits/loudness/schema';
import { motionSchema } from './traits/motion/schema';
import { noiseSchema } from './traits/noise/schema';
import { partialsSchema } from './traits/partials/schema';
import { pitchSchema } from './traits/pitch/schema';
import { spaceSchema } from './traits/space/schema';
import { sourcesSchema } from './traits/sources/schema';
import { fmSchema } from './traits/fm/schema';
import { ringSchema } from './traits/ring/schema';
import { formantsSchema } from './traits/formants/schema';
import { unisonSchema } from './traits/unison/schema';
import { widthSchema } from './traits/width/schema';

export const noteSchema = z.object({
  onsetSeconds: number,
  durationSeconds: number,
  midi: z.int().min(0).max(127),
  cents: number,
  levelDb: number,
});

/** Readings of other versions lack traits; cuts are then read again. */
export const READING_VERSION = 16;

/** What is told of a tone, trait by trait. */
const traitsSchema = z.object({
  pitch: pitchSchema,
  loudness: loudnessSchema,
  brightness: brightnessSchema,
  partials: partialsSchema,
  sources: sourcesSchema,
  fm: fmSchema,
  ring: ringSchema,
  formants: formantsSchema,
  noise: noiseSchema,
  unison: unisonSchema,
  width: widthSchema,
  motion: motionSchema,
  space: spaceSchema,
  dirt: dirtSchema,
});

/**
 * All traits of one cut: the document of `imprint read --json`, and what is stored and compared. `null` says
 * that nothing was found; a confidence of 0, that nothing is claimed.
 */
export const readingSchema = z.object({
  version: z.literal(READING_VERSION),
  durationSeconds: number,
  sampleRateHz: number,
  channels: z.int(),
  tempo: z.object({ bpm: found, confidence }),
  key: z.object({ tonic: z.string().nullable(), mode: z.string().nullable(), confidence }),
  notes: z.array(noteSchema),
  traits: traitsSchema,
  /** How many layers would explain the tone, lowest first, with their edges. */
  layers: z.array(
    z.object({ name: z.enum(['sub', 'body', 'attack', 'air']), fromHz: number, toHz: number, reason: z.string() }),
  ),
  /** Why what was read of a group is not sure. */
  doubts: z.partialRecord(traitsSchema.keyof(), z.string()),
});

export type Reading = z.infer<typeof readingSchema>;
export type ReadingNote = z.infer<typeof noteSchema>;
export type TraitId = keyof Reading['traits'];
