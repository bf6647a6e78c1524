/** What went wrong in or on the way to the database, told from what its driver threw. */

interface DriverError {
  code?: unknown;
  message?: unknown;
  name?: unknown;
  original?: DriverError;
  parent?: DriverError;
  errors?: readonly unknown[];
}

/** The codes of an error and of those within it. */
function codesOf(error: unknown): string[] {
  const { code, original, parent } = (error ?? {}) as DriverError;
  const inner = original ?? parent;
  return [...(typeof code === 'string' ? [code] : []), ...(inner && inner !== error ? codesOf(inner) : [])];
}

/** Errors of PostgreSQL by code: https://www.postgresql.org/docs/15/errcodes-appendix.html */
const AWAY = new Set([
  '57P01',
  '57P02',
  '57P03',
  '53300',
  'ECONNREFUSED',
  'ECONNRESET',
  'ENOENT',
  'EPIPE',
  'ETIMEDOUT',
]);
const FULL = new Set(['53100', 'ENOSPC', 'EDQUOT']);
const UNSTORABLE = new Set(['22021', '22P05', '22P02']);
const TRANSIENT = new Set(['40001', '40P01']);
const MISSING_REFERENCE = '23503';

const hasCode = (error: unknown, codes: ReadonlySet<string>) => codesOf(error).some((code) => codes.has(code));

/** The database cannot be reached, or let go of the connection. */
export function isAway(error: unknown): boolean {
  const { name, message } = (error ?? {}) as DriverError;
  if (typeof name !== 'string' || !name.startsWith('Sequelize')) return false;
  return (
    name.startsWith('SequelizeConnection') ||
    hasCode(error, AWAY) ||
    codesOf(error).some((code) => code.startsWith('08')) ||
    /Connection terminated|connection is not queryable|Client has encountered a connection error/.test(String(message))
  );
}

export const isDiskFull = (error: unknown) => hasCode(error, FULL);

/** Two transactions were in each other's way; doing it once more helps. */
export const isTransient = (error: unknown) => hasCode(error, TRANSIENT);

/** A text holds what the database cannot keep. */
export const isUnstorable = (error: unknown) => hasCode(error, UNSTORABLE);

/** What a row refers to was deleted meanwhile. */
export const isMissingReference = (error: unknown) => codesOf(error).includes(MISSING_REFERENCE);
