import { z } from 'zod';
import { parameterTable } from '../parameters/table';
import { chainSchema, type effectSchema } from './schemas/effectSchema';
import {
  type contourSchema,
  envelopeSchema,
  type lfoSchema,
  modulatorSchema,
  type noteValueSchema,
  routeSchema,
} from './schemas/modulatorSchema';
import { id, name, on, shapeOf } from './schemas/schemaParts';
import { filterSchema, shaperSchema } from './schemas/shapingSchema';
import { interactionSchema, type shapeNames, sourceSchema } from './schemas/sourceSchema';

export const FRAME_SAMPLES = 2048;

/**
 * Frames of one period each, 2048 samples, little-endian 32-bit floats in base64, level about ±1. Level over
 * time belongs to contours, not to the table.
 */
export const wavetableSchema = z.object({
  id,
  name,
  frameCount: z.int().min(1).max(256),
  framesBase64: z.base64(),
});

export const MAX_SAMPLE_SECONDS = 30;

/** A recorded sound: little-endian 16-bit samples in base64, channels interleaved. */
export const sampleSchema = z.object({
  id,
  name,
  sampleRateHz: z.number().min(8000).max(192000),
  channels: z.int().min(1).max(2),
  pcmBase64: z.base64(),
});

/** How the notes of a layer follow one another. */
export const voiceSchema = z.object({
  mode: z.enum(['poly', 'mono', 'legato']).default('poly'),
  /** When a note slides from the one before: never, always, or only where the two overlap. */
  glide: z.enum(['never', 'always', 'overlap']).default('never'),
  /** The glide's length is for any distance, or for an octave. */
  glideBy: z.enum(['time', 'octave']).default('time'),
  ...shapeOf(parameterTable.voice),
});

export const layerSchema = z.object({
  id,
  name,
  on,
  ...shapeOf(parameterTable.layer),
  voice: voiceSchema.prefault({}),
  sources: z.array(sourceSchema).max(16),
  interactions: z.array(interactionSchema).max(32).default([]),
  filters: z.tuple([filterSchema, filterSchema]),
  /** In series the shaper stands between the filters; in parallel it follows the first. */
  filterOrder: z.enum(['series', 'parallel']).default('series'),
  shaper: shaperSchema,
  amp: envelopeSchema,
  modulators: z.array(modulatorSchema).max(32),
  routes: z.array(routeSchema).max(64),
  /** What the sum of its voices is put through. */
  effects: chainSchema,
  /** The group whose chain it goes through next. */
  groupId: id.nullable().default(null),
});

/** Layers that share a chain, between their own and that of the patch. */
export const groupSchema = z.object({ id, name, effects: chainSchema });

/** A control for the whole patch that routes can start from. */
export const macroSchema = z.object({ id, name, ...shapeOf(parameterTable.macro) });

export const PATCH_VERSION = 4;
export const MAX_LAYERS = 8;
export const MAX_MACROS = 8;
export const MAX_GROUPS = 4;

export const patchSchema = z.object({
  format: z.literal('imprint-patch'),
  version: z.literal(PATCH_VERSION),
  name,
  ...shapeOf(parameterTable.patch),
  /** What sets the tempo: the study's track, while it has one, or the hand. */
  tempoFrom: z.enum(['track', 'hand']).default('track'),
  layers: z.array(layerSchema).min(1).max(MAX_LAYERS),
  macros: z.array(macroSchema).max(MAX_MACROS).default([]),
  wavetables: z.array(wavetableSchema).max(16),
  samples: z.array(sampleSchema).max(16).default([]),
  groups: z.array(groupSchema).max(MAX_GROUPS).default([]),
  /** What the sum of the layers is put through. */
  effects: chainSchema,
  /** What a match leaves as it is: `layer/module`, or `layer/module.parameter`. */
  locks: z.array(z.string().min(3).max(120)).max(1000).default([]),
  /** From macros to effects of groups and of the patch. */
  routes: z.array(routeSchema).max(64).default([]),
});

export type Patch = z.infer<typeof patchSchema>;
export type Layer = z.infer<typeof layerSchema>;
export type Group = z.infer<typeof groupSchema>;
export type Voice = z.infer<typeof voiceSchema>;
export type Source = z.infer<typeof sourceSchema>;
export type SourceKind = Source['kind'];
export type Interaction = z.infer<typeof interactionSchema>;
export type Filter = z.infer<typeof filterSchema>;
export type FilterKind = Filter['kind'];
export type Shaper = z.infer<typeof shaperSchema>;
export type Effect = z.infer<typeof effectSchema>;
export type EffectKind = Effect['kind'];
export type Envelope = z.infer<typeof envelopeSchema>;
export type Contour = z.infer<typeof contourSchema>;
export type Lfo = z.infer<typeof lfoSchema>;
export type NoteValue = z.infer<typeof noteValueSchema>;
export type Modulator = z.infer<typeof modulatorSchema>;
export type Route = z.infer<typeof routeSchema>;
export type Macro = z.infer<typeof macroSchema>;
export type Wavetable = z.infer<typeof wavetableSchema>;
export type Sample = z.infer<typeof sampleSchema>;
export type ShapeName = (typeof shapeNames)[number];
