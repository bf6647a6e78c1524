import { z } from 'zod';
import type { ExposedMoment } from '../cuts/exposedMoments';
import { modes } from './key';
import type { Piece } from './piece';
import type { Section } from './sections';

/** Overviews of other versions are worked out anew. */
export const OVERVIEW_VERSION = 2;

const seconds = z.number();
const key = z.object({ tonic: z.string(), mode: z.enum(modes), fit: z.number() });

const pieceSchema: z.ZodType<Piece> = z.object({
  tempo: z
    .object({ bpm: z.number(), beatSeconds: seconds, confidence: z.number(), others: z.array(z.number()) })
    .optional(),
  key: z.object({ candidates: z.array(key).max(20), tuningCents: z.number(), confidence: z.number() }).optional(),
});

const momentSchema: z.ZodType<ExposedMoment> = z.object({
  fromSeconds: seconds,
  toSeconds: seconds,
  f0Hz: z.number(),
  midi: z.int(),
  role: z.enum(['bass', 'lead', 'pad', 'pluck']),
  score: z.number(),
  alone: z.number(),
  attack: z.boolean(),
  tail: z.boolean(),
});

const sectionSchema: z.ZodType<Section> = z.object({
  fromSeconds: seconds,
  toSeconds: seconds,
  letter: z.string(),
  keys: z.array(key).max(20),
});

/** What is told of a whole file: it takes seconds, so it is kept. */
export const overviewSchema = z.object({
  version: z.literal(OVERVIEW_VERSION),
  onsets: z.array(seconds).max(100_000),
  piece: pieceSchema,
  exposed: z.array(momentSchema).max(100),
  sections: z.array(sectionSchema).max(200),
});

export type Overview = z.infer<typeof overviewSchema>;
