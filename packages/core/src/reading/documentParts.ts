import { z } from 'zod';

/** What the documents of readings are made of. */

export const number = z.number();
/** Null where nothing was found. */
export const found = z.number().nullable();
/** 0, nothing is claimed, to 1. */
export const confidence = z.number().min(0).max(1);

/** A measured line over time, one value every `hopSeconds` from the start of the cut. */
export const series = z.object({
  hopSeconds: z.number().positive(),
  values: z.array(z.number().nullable()).max(20000),
});

export type Series = z.infer<typeof series>;

/** Value of a series at a time, the nearest frame; null outside and where nothing was measured. */
export function seriesAt({ hopSeconds, values }: Series, seconds: number): number | null {
  return values[Math.round(seconds / hopSeconds)] ?? null;
}

/** As many digits as mean something. */
export const rounded = (value: number, digits = 6) => Number(value.toPrecision(digits));

export function toSeries(
  hopSeconds: number,
  values: ArrayLike<number>,
  convert: (value: number) => number = (v) => v,
): Series {
  return {
    hopSeconds,
    values: Array.from(values, (value) => (Number.isFinite(value) ? rounded(convert(value), 5) : null)),
  };
}
