import { z } from 'zod';

/**
 * Longest name of anything: a study, a patch, a layer, a table. One limit, so that what is called after
 * another thing fits.
 */
export const MAX_NAME = 120;

/** A character that texts cannot hold: a zero or half of a surrogate pair, which no database keeps. */
export const isStorable = (text: string) => !text.includes('\0') && !HALF_PAIR.test(text);

const HALF_PAIR = /\p{Cs}/u;

const storable = { message: 'A text may not hold characters that cannot be stored (code 0, half a pair).' };

/** A text of a person's, of any length that its user sets. */
export const freeText = (maxLength: number) => z.string().max(maxLength).refine(isStorable, storable);

export const nameSchema = z
  .string()
  .min(1, 'A name needs at least one character.')
  .max(MAX_NAME, `A name has at most ${MAX_NAME} characters.`)
  .refine(isStorable, storable);

/** A name that fits, made of any text: without what cannot be shown, shortened where it is too long. */
export function fittingName(text: string, fallback: string): string {
  const shown = text
    // Control characters and those that only steer the direction of writing would make a name that looks like
    // another.
    .replaceAll(/[\p{Cs}\p{Cc}\p{Zl}\p{Zp}\u202a-\u202e\u2066-\u2069\ufeff]/gu, ' ')
    .replaceAll(/\s+/g, ' ')
    .trim();
  if (shown === '') return fallback;
  return shown.length <= MAX_NAME
    ? shown
    : `${shown
        .slice(0, MAX_NAME - 1)
        .replace(HALF_PAIR, '')
        .trimEnd()}…`;
}
