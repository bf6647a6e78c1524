import type { RequestHandler } from 'express';
import { isStorable } from '@imprint/core/patch/names';
import { ApiError } from './errors';

/** Refuses bodies with texts that the database cannot keep, wherever in them they are. */
export const onlyStorable: RequestHandler = (request, _response, next) => {
  checkStorable(request.body);
  next();
};

/** The same value, every text of which can be stored. Throws an ApiError otherwise. */
export function checkStorable(value: unknown): unknown {
  const left: unknown[] = [value];
  while (left.length > 0) {
    const part = left.pop();
    if (typeof part === 'string' && !isStorable(part)) {
      throw new ApiError(
        'badRequest',
        'A text of the request holds characters that cannot be stored (code 0, half a pair).',
      );
    }
    if (typeof part === 'object' && part !== null) {
      if (Array.isArray(part)) for (const item of part) left.push(item);
      else for (const [name, item] of Object.entries(part)) left.push(name, item);
    }
  }
  return value;
}
