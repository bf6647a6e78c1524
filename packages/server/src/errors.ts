import { randomInt } from 'node:crypto';
import { statfsSync } from 'node:fs';
import type { ErrorRequestHandler } from 'express';
import { MulterError } from 'multer';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { InputError } from '@imprint/core/patch/inputError';
import { firstIssue } from '@imprint/core/patch/parse';
import { type ErrorCode, MAX_UPLOAD_BYTES } from '@imprint/contract/api';
import { isAway, isDiskFull, isMissingReference, isUnstorable } from './databaseFaults';

const STATUS: Record<ErrorCode, number> = {
  badRequest: 400,
  badFile: 422,
  forbidden: 403,
  notFound: 404,
  tooSlow: 408,
  conflict: 409,
  tooLarge: 413,
  notSupported: 415,
  internal: 500,
  away: 503,
  diskFull: 507,
};

/** An answer that is no success. */
export class ApiError extends Error {
  constructor(
    readonly code: ErrorCode,
    message: string,
    /** The present state of what was to be changed, for a conflict. */
    readonly current?: unknown,
  ) {
    super(message);
  }
}

interface Answer {
  code: ErrorCode;
  message: string;
  fault?: string;
  current?: unknown;
}

/**
 * Turns everything that is thrown into the one error shape of the contract, and writes down what is the
 * server's own fault.
 */
export function errorHandler(log: Logger, dataFolder?: string): ErrorRequestHandler {
  return (error, request, response, next) => {
    const answer = isAway(error) && dataFolder && isFull(dataFolder) ? DISK_FULL : describe(error);
    if (STATUS[answer.code] >= 500) {
      const { method, originalUrl: path } = request;
      log.error({ error, method, path, fault: answer.fault }, answer.message);
    }
    if (response.headersSent) {
      next(error);
      return;
    }
    response.status(STATUS[answer.code]).json({ error: answer });
  };
}

const DISK_FULL: Answer = {
  code: 'diskFull',
  message: 'The disk is full; nothing was changed. Free some space on it, then try again.',
};

/** Less than this and a database cannot even start. */
const SMALLEST_FREE_BYTES = 20_000_000;

/**
 * Whether the disk under a folder is full: a database that finds no room for what it is to write ends, and is
 * away then.
 */
function isFull(folder: string): boolean {
  try {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize < SMALLEST_FREE_BYTES;
  } catch {
    return false;
  }
}

/** Errors that libraries mark by a status of their own. */
const BY_STATUS: Record<number, (reason: string) => Answer> = {
  400: (reason) => ({ code: 'badRequest', message: `The request cannot be read: ${reason}.` }),
  404: () => ({ code: 'notFound', message: 'There is nothing at this address.' }),
  413: () => ({ code: 'tooLarge', message: 'This is larger than what can be taken at this address.' }),
  415: (reason) => ({
    code: 'notSupported',
    message: `The request is written in a way that is not read here: ${reason}.`,
  }),
};

function describe(error: unknown): Answer {
  if (error instanceof ApiError) return { code: error.code, message: error.message, current: error.current };
  if (error instanceof InputError) return { code: 'badFile', message: error.message };
  if (error instanceof ZodError)
    return { code: 'badRequest', message: `The request does not fit: ${firstIssue(error)}` };
  if (error instanceof MulterError && error.code === 'LIMIT_FILE_SIZE') {
    const most = Math.floor(MAX_UPLOAD_BYTES / 1e6);
    return { code: 'tooLarge', message: `This is larger than the ${most} MB that can be taken.` };
  }
  if (error instanceof MulterError || isBrokenMultipart(error))
    return { code: 'badRequest', message: `The upload does not fit: ${(error as Error).message}.` };
  if (error instanceof SyntaxError) return { code: 'badRequest', message: 'The request is not valid JSON.' };
  if (error instanceof URIError) return { code: 'badRequest', message: 'The address cannot be read.' };
  if (isUnstorable(error))
    return { code: 'badRequest', message: 'A text of the request holds characters that cannot be stored.' };
  if (isMissingReference(error))
    return { code: 'notFound', message: 'What this belongs to was deleted meanwhile. Nothing was changed.' };
  if (isDiskFull(error)) return DISK_FULL;
  if (isAway(error)) {
    return { code: 'away', message: 'The database does not answer; nothing was changed. It is tried again.' };
  }
  const { status, message } = error as { status?: number; message?: string };
  const known = status === undefined ? undefined : BY_STATUS[status];
  if (known) return known(String(message ?? '').replace(/[.\s]+$/, ''));
  const fault = String(randomInt(100_000, 1_000_000));
  return {
    code: 'internal',
    message: `Something went wrong on the server. Nothing was changed; try again. (Fault ${fault}, also in its log.)`,
    fault,
  };
}

/** The reader of multipart bodies throws plain errors with these words. */
const isBrokenMultipart = (error: unknown) =>
  error instanceof Error &&
  /^(Multipart: |Unexpected end of (form|multipart)|Malformed (part header|urlencoded form|content)|Unsupported content type|Missing Content-Type|Boundary not found)/i.test(
    error.message,
  );
