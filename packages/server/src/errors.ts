import type { ErrorRequestHandler } from 'express';
import { MulterError } from 'multer';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { InputError } from '@imprint/core/patch/inputError';
import { firstIssue } from '@imprint/core/patch/parse';
import { type ErrorCode, MAX_UPLOAD_BYTES } from '@imprint/contract/api';

const STATUS: Record<ErrorCode, number> = {
  badRequest: 400,
  badFile: 422,
  forbidden: 403,
  notFound: 404,
  conflict: 409,
  tooLarge: 413,
  internal: 500,
};

/** An answer that is no success. */
export class ApiError extends Error {
  constructor(
    readonly code: ErrorCode,
    message: string,
  ) {
    super(message);
  }
}

/** Turns everything that is thrown into the one error shape of the contract. */
export function errorHandler(log: Logger): ErrorRequestHandler {
  return (error, _request, response, next) => {
    const { code, message } = describe(error);
    if (code === 'internal') log.error(error);
    if (response.headersSent) return next(error);
    response.status(STATUS[code]).json({ error: { code, message } });
  };
}

function describe(error: unknown): { code: ErrorCode; message: string } {
  if (error instanceof ApiError) return error;
  if (error instanceof InputError) return { code: 'badFile', message: error.message };
  if (error instanceof ZodError)
    return { code: 'badRequest', message: `The request does not fit: ${firstIssue(error)}` };
  if (error instanceof MulterError || isTooLarge(error)) {
    const tooLarge = isTooLarge(error) || (error as MulterError).code === 'LIMIT_FILE_SIZE';
    return tooLarge
      ? {
          code: 'tooLarge',
          message: `This is larger than the ${Math.floor(MAX_UPLOAD_BYTES / 1e6)} MB that can be taken.`,
        }
      : { code: 'badRequest', message: `The upload does not fit: ${(error as Error).message}.` };
  }
  if (error instanceof SyntaxError) return { code: 'badRequest', message: 'The request is not valid JSON.' };
  return { code: 'internal', message: 'Something went wrong on the server. Nothing was changed; try again.' };
}

const isTooLarge = (error: unknown) => (error as { type?: string }).type === 'entity.too.large';
