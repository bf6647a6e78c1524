import { z } from 'zod';
import { modulatorParameters } from '../../parameters/modulatorParameters';
import { lfoShapes } from '../../parameters/shapes';
import { division, id, name, on, shapeOf } from './schemaParts';

/** Delay, attack, hold, decay, sustain, release; see envelopeCurve.ts for the exact curve. */
export const envelopeSchema = z.object({
  kind: z.literal('envelope'),
  id,
  name,
  /** Goes round from the attack to the end of the decay while the note is held. */
  loop: z.boolean().default(false),
  ...shapeOf(modulatorParameters.envelope),
});

/**
 * A drawn or measured line over the note’s own time, −1..1, straight between points; the last value is held.
 */
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

export const lfoSchema = z.object({
  kind: z.literal('lfo'),
  id,
  name,
  shape: z.enum(lfoShapes).default('sine'),
  /**
   * One turn of the drawn shape: where in it (0..1), value 0..1, and the bend of the way to the next point,
   * −100..100 %.
   */
  points: z
    .array(
      z.object({
        at: z.number().min(0).max(1),
        value: z.number().min(0).max(1),
        bend: z.number().min(-100).max(100).default(0),
      }),
    )
    .min(1)
    .max(64)
    .refine((points) => points.every((point, i) => i === 0 || point.at > points[i - 1].at), {
      message: 'Points of an LFO must follow one another.',
    })
    .default([
      { at: 0, value: 0, bend: 0 },
      { at: 0.5, value: 1, bend: 0 },
    ]),
  /** A length in musical time that takes the place of the rate in Hz. */
  division: division.nullable().default(null),
  run: z.enum(['loop', 'oneShot']).default('loop'),
  restart: z.enum(['note', 'free']).default('note'),
  ...shapeOf(modulatorParameters.lfo),
});

export const noteValues = [
  'velocity',
  'key',
  'random',
  'unison',
  'counter',
  'releaseVelocity',
  'wheel',
  'pressure',
  'bend',
] as const;

/** A value that a note or the player brings. */
export const noteValueSchema = z.object({
  kind: z.literal('note'),
  id,
  name,
  of: z.enum(noteValues),
  /** Notes after which the note counter starts over. */
  cycle: z.int().min(2).max(32).default(4),
});

export const modulatorSchema = z.discriminatedUnion('kind', [
  envelopeSchema,
  contourSchema,
  lfoSchema,
  noteValueSchema,
]);

/**
 * Adds `amount × modulator`, in the target's unit, to a parameter. A unipolar route runs from 0 to the
 * amount, a bipolar one from minus to plus the amount. `from` is a modulator of the layer or a macro of the
 * patch; the target may be a modulator, or the `amount` of another route.
 */
export const routeSchema = z.object({
  id,
  on,
  from: id,
  to: z.object({ moduleId: id, parameter: z.string().min(1).max(40) }),
  amount: z.number().min(-200).max(200),
  polarity: z.enum(['unipolar', 'bipolar']).default('unipolar'),
});
