import { z } from 'zod';
import { beatsOfDivision } from '../parameters/division';
import { EQUALIZER_BANDS, effectParameters } from '../parameters/effectParameters';
import { drawnLine, id, on, shapeOf } from './schemaParts';
import { shaperCurves } from './shapingSchema';

const division = z
  .string()
  .refine((text) => beatsOfDivision(text) !== undefined, {
    message: 'A division is written like 1/8, 1/8., 1/8t or 2 bars.',
  })
  .nullable()
  .default(null);

export const tremoloShapes = ['sine', 'triangle', 'rising', 'falling', 'square'] as const;

export const bandKinds = ['off', 'lowCut', 'highCut', 'lowShelf', 'highShelf', 'bell', 'notch', 'tilt'] as const;
export const cutSlopes = [6, 12, 18, 24, 36, 48] as const;

const band = z.object({
  kind: z.enum(bandKinds).default('off'),
  /** Of cuts. */
  slopeDbPerOctave: z.union(cutSlopes.map((slope) => z.literal(slope))).default(12),
});

/** One effect of a chain: what goes in is put through it, and mixed with it. */
export const effectSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('equalizer'),
    id,
    on,
    bands: z
      .array(band)
      .length(EQUALIZER_BANDS)
      .default(() => Array.from({ length: EQUALIZER_BANDS }, () => band.parse({}))),
    ...shapeOf(effectParameters.equalizer),
  }),
  z.object({
    kind: z.literal('drive'),
    id,
    on,
    curve: z.enum(shaperCurves).default('soft'),
    drawnCurve: drawnLine([-1, 1], [-1, 1]).default([
      { x: -1, y: -1 },
      { x: 1, y: 1 },
    ]),
    /** Where its own low-pass stands: a filter before a drive sings, one behind it dulls. */
    tone: z.enum(['before', 'behind']).default('behind'),
    /** Whether it comes out as loud as it went in. */
    matchLevel: z.boolean().default(false),
    ...shapeOf(effectParameters.drive),
  }),
  z.object({
    kind: z.literal('compressor'),
    id,
    on,
    detector: z.enum(['peak', 'rms']).default('peak'),
    autoMakeUp: z.boolean().default(false),
    ...shapeOf(effectParameters.compressor),
  }),
  z.object({ kind: z.literal('reducer'), id, on, ...shapeOf(effectParameters.reducer) }),
  z.object({ kind: z.literal('multiband'), id, on, ...shapeOf(effectParameters.multiband) }),
  z.object({ kind: z.literal('limiter'), id, on, ...shapeOf(effectParameters.limiter) }),
  z.object({ kind: z.literal('chorus'), id, on, ...shapeOf(effectParameters.chorus) }),
  z.object({
    kind: z.literal('delay'),
    id,
    on,
    /** In place of the times in seconds. */
    leftDivision: division,
    rightDivision: division,
    /** What comes in begins on the left, and every repeat changes sides. */
    pingPong: z.boolean().default(false),
    ...shapeOf(effectParameters.delay),
  }),
  z.object({ kind: z.literal('reverb'), id, on, ...shapeOf(effectParameters.reverb) }),
  z.object({
    kind: z.literal('tremolo'),
    id,
    on,
    shape: z.enum(tremoloShapes).default('sine'),
    /** In place of the rate. */
    division,
    ...shapeOf(effectParameters.tremolo),
  }),
  z.object({
    kind: z.literal('stereo'),
    id,
    on,
    turnLeft: z.boolean().default(false),
    turnRight: z.boolean().default(false),
    /** Whether a constant is taken away. */
    removeDc: z.boolean().default(false),
    ...shapeOf(effectParameters.stereo),
  }),
]);

export const MAX_EFFECTS = 16;
export const chainSchema = z.array(effectSchema).max(MAX_EFFECTS).default([]);
