import { z } from 'zod';
import { filterParameters, shaperParameters } from '../parameters/filterParameters';
import { shaperCurves } from '../parameters/shapes';
import { drawnLine, id, on, shapeOf } from './schemaParts';

const slope = z.union([z.literal(6), z.literal(12), z.literal(18), z.literal(24)]);
const edge = { slopeDbPerOctave: slope.default(24) };
/** Whether what a narrow filter leaves is lifted to the level of what it is given. */
const makeUp = { makeUp: z.boolean().default(true) };
const polarity = { polarity: z.enum(['positive', 'negative']).default('positive') };

export const filterSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('lowpass'), id, on, ...edge, ...shapeOf(filterParameters.lowpass) }),
  z.object({ kind: z.literal('highpass'), id, on, ...edge, ...shapeOf(filterParameters.highpass) }),
  z.object({
    kind: z.literal('bandpass'),
    id,
    on,
    /** Of both sides together. */
    slopeDbPerOctave: z.union([z.literal(12), z.literal(24)]).default(12),
    ...makeUp,
    ...shapeOf(filterParameters.bandpass),
  }),
  z.object({ kind: z.literal('ladder'), id, on, ...shapeOf(filterParameters.ladder) }),
  z.object({ kind: z.literal('notch'), id, on, ...shapeOf(filterParameters.notch) }),
  z.object({ kind: z.literal('peak'), id, on, ...shapeOf(filterParameters.peak) }),
  z.object({ kind: z.literal('lowShelf'), id, on, ...shapeOf(filterParameters.lowShelf) }),
  z.object({ kind: z.literal('highShelf'), id, on, ...shapeOf(filterParameters.highShelf) }),
  z.object({ kind: z.literal('lowpassNotch'), id, on, ...edge, ...shapeOf(filterParameters.lowpassNotch) }),
  z.object({ kind: z.literal('highpassNotch'), id, on, ...edge, ...shapeOf(filterParameters.highpassNotch) }),
  z.object({ kind: z.literal('comb'), id, on, ...polarity, ...shapeOf(filterParameters.comb) }),
  z.object({ kind: z.literal('phaser'), id, on, ...polarity, ...shapeOf(filterParameters.phaser) }),
  z.object({ kind: z.literal('formant'), id, on, ...makeUp, ...shapeOf(filterParameters.formant) }),
]);

export const filterKinds = filterSchema.options.map((option) => option.shape.kind.value);

export const shaperSchema = z.object({
  kind: z.literal('shaper').default('shaper'),
  id,
  on: z.boolean().default(false),
  curve: z.enum(shaperCurves).default('soft'),
  /** Output over input, −1..1 both; beyond the ends the ends are held. */
  drawnCurve: drawnLine([-1, 1], [-1, 1]).default([
    { x: -1, y: -1 },
    { x: 1, y: 1 },
  ]),
  ...shapeOf(shaperParameters),
});
