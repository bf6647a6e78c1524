import { z } from 'zod';
import { beatsOfDivision } from '../../parameters/division';
import type { Parameter } from '../../parameters/parameter';
import { nameSchema } from '../names';

/** A Zod shape with the range and default of every parameter of a module. */
export function shapeOf<T extends Record<string, Parameter>>(parameters: T) {
  return Object.fromEntries(
    Object.entries(parameters).map(([name, { min, max, default: initial }]) => [
      name,
      z.number().min(min).max(max).default(initial),
    ]),
  ) as { [K in keyof T]: z.ZodDefault<z.ZodNumber> };
}

export const id = z.string().min(1).max(40);
export const name = nameSchema;
/** A name of its own, for what is else called after what it is. */
export const ownName = nameSchema.optional();
export const on = z.boolean().default(true);

/** A length in musical time. */
export const division = z.string().refine((text) => beatsOfDivision(text) !== undefined, {
  message: 'A division is written like 1/8, 1/8., 1/8t or 2 bars.',
});

type XY = { x: number; y: number };

/** Points of a drawn line, straight in between, from left to right. */
export const drawnLine = (x: [number, number], y: [number, number]) =>
  z
    .array(z.object({ x: z.number().min(x[0]).max(x[1]), y: z.number().min(y[0]).max(y[1]) }))
    .min(2)
    .max(128)
    .refine((points: XY[]) => points.every((point, i) => i === 0 || point.x > points[i - 1].x), {
      message: 'Points of a drawn line must follow one another from left to right.',
    });
