import type { Reading } from '../../schema';

/** The cause of a movement as it is said. */
export const causeInWords = (cause: Reading['traits']['motion'][number]['cause']): string =>
  cause === 'pulseWidth' ? 'pulse width' : cause;
