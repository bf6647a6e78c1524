import { z } from 'zod';
import { filterParameters, shaperParameters } from '../../parameters/filterParameters';
import { shaperCurves } from '../../parameters/shapes';
import { drawnLine, id, on, ownName, shapeOf } from './schemaParts';

const every = { id, on, name: ownName };
const slope = z.union([z.literal(6), z.literal(12), z.literal(18), z.literal(24)]);
const edge = { slopeDbPerOctave: slope.default(24) };
/** Whether what a narrow filter leaves is lifted to the level of what it is given. */
const makeUp = { makeUp: z.boolean().default(true) };
const polarity = { polarity: z.enum(['positive', 'negative']).default('positive') };

export const filterSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('lowpass'), ...every, ...edge, ...shapeOf(filterParameters.lowpass) }),
  z.object({ kind: z.literal('highpass'), ...every, ...edge, ...shapeOf(filterParameters.highpass) }),
  z.object({
    kind: z.literal('bandpass'),
    ...every,
    /** Of both sides together. */
    slopeDbPerOctave: z.union([z.literal(12), z.literal(24)]).default(12),
    ...makeUp,
    ...shapeOf(filterParameters.bandpass),
  }),
  z.object({ kind: z.literal('ladder'), ...every, ...shapeOf(filterParameters.ladder) }),
  z.object({ kind: z.literal('notch'), ...every, ...shapeOf(filterParameters.notch) }),
  z.object({ kind: z.literal('peak'), ...every, ...shapeOf(filterParameters.peak) }),
  z.object({ kind: z.literal('lowShelf'), ...every, ...shapeOf(filterParameters.lowShelf) }),
  z.object({ kind: z.literal('highShelf'), ...every, ...shapeOf(filterParameters.highShelf) }),
  z.object({ kind: z.literal('lowpassNotch'), ...every, ...edge, ...shapeOf(filterParameters.lowpassNotch) }),
  z.object({ kind: z.literal('highpassNotch'), ...every, ...edge, ...shapeOf(filterParameters.highpassNotch) }),
  z.object({ kind: z.literal('comb'), ...every, ...polarity, ...shapeOf(filterParameters.comb) }),
  z.object({ kind: z.literal('allPass'), ...every, ...polarity, ...shapeOf(filterParameters.allPass) }),
  z.object({ kind: z.literal('formant'), ...every, ...makeUp, ...shapeOf(filterParameters.formant) }),
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
