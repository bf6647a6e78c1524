import { z } from 'zod';
import type { Parameter } from '../parameters/parameter';
import { parameterTable } from '../parameters/table';

/** A Zod shape with the range and default of every parameter of a module. */
function shapeOf<T extends Record<string, Parameter>>(parameters: T) {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, { min, max, default: initial }]) => [
      name,
      z.number().min(min).max(max).default(initial),
    ]),
  ) as { [K in keyof T]: z.ZodDefault<z.ZodNumber> };
}

const id = z.string().min(1).max(40);
const name = z.string().min(1).max(80);

export const FRAME_SAMPLES = 2048;

/**
 * Frames of one period each, 2048 samples, little-endian 32-bit floats in base64, level about ±1. Level over time
 * belongs to contours, not to the table.
 */
export const wavetableSchema = z.object({
  id,
  name,
  frameCount: z.int().min(1).max(256),
  framesBase64: z.base64(),
});

export const shapeNames = ['sine', 'triangle', 'saw', 'pulse'] as const;

export const sourceSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('shape'),
    id,
    on: z.boolean().default(true),
    shape: z.enum(shapeNames),
    ...shapeOf(parameterTable.shape),
  }),
  z.object({
    kind: z.literal('wavetable'),
    id,
    on: z.boolean().default(true),
    wavetableId: id,
    ...shapeOf(parameterTable.wavetable),
  }),
]);

export const filterSchema = z.object({
  kind: z.literal('lowpass'),
  id,
  on: z.boolean().default(true),
  slopeDbPerOctave: z.union([z.literal(12), z.literal(24)]).default(24),
  ...shapeOf(parameterTable.lowpass),
});

/** Attack, hold, decay, sustain, release; see engine/envelope.ts for the exact curve. */
export const envelopeSchema = z.object({ kind: z.literal('envelope'), id, name, ...shapeOf(parameterTable.envelope) });

/** A drawn or measured line over the note’s own time, −1..1, straight between points; the last value is held. */
export const contourSchema = z.object({
  kind: z.literal('contour'),
  id,
  name,
  points: z
    .array(z.object({ seconds: z.number().min(0).max(60), value: z.number().min(-1).max(1) }))
    .min(1)
    .max(512)
    .refine((points) => points.every((point, i) => i === 0 || point.seconds > points[i - 1].seconds), {
      message: 'Points of a contour must follow one another in time.',
    }),
});

export const modulatorSchema = z.discriminatedUnion('kind', [envelopeSchema, contourSchema]);

/** Adds `amount × modulator`, in the target's unit, to a parameter. An envelope runs from 0 to 1, a contour from −1 to 1. */
export const routeSchema = z.object({
  id,
  on: z.boolean().default(true),
  from: id,
  to: z.object({ moduleId: id, parameter: z.string().min(1).max(40) }),
  amount: z.number().min(-200).max(200),
});

export const layerSchema = z.object({
  id,
  name,
  on: z.boolean().default(true),
  ...shapeOf(parameterTable.layer),
  sources: z.array(sourceSchema).max(16),
  filter: filterSchema,
  amp: envelopeSchema,
  modulators: z.array(modulatorSchema).max(32),
  routes: z.array(routeSchema).max(64),
});

export const PATCH_VERSION = 1;

export const patchSchema = z.object({
  format: z.literal('imprint-patch'),
  version: z.literal(PATCH_VERSION),
  name,
  layers: z.array(layerSchema).min(1).max(8),
  wavetables: z.array(wavetableSchema).max(16),
});

export type Patch = z.infer<typeof patchSchema>;
export type Layer = z.infer<typeof layerSchema>;
export type Source = z.infer<typeof sourceSchema>;
export type Filter = z.infer<typeof filterSchema>;
export type Envelope = z.infer<typeof envelopeSchema>;
export type Contour = z.infer<typeof contourSchema>;
export type Modulator = z.infer<typeof modulatorSchema>;
export type Route = z.infer<typeof routeSchema>;
export type Wavetable = z.infer<typeof wavetableSchema>;
export type ShapeName = (typeof shapeNames)[number];
