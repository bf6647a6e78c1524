import { z } from 'zod';
import { nameSchema } from '@imprint/core/patch/names';

/** What the documents between page and server are made of. */

export const id = z.uuid();
export const title = z.string().trim().pipe(nameSchema);
/** Texts as they are shown. What was once kept is shown, whatever is asked of new ones since. */
export const shown = z.string();
export const date = z.string();
/**
 * Counts the changes of a row: a change names the state that it was made on, and is refused when that is no
 * longer so.
 */
export const revisionNumber = z.int().min(1);
