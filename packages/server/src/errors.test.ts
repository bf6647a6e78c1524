import { DatabaseError, ConnectionRefusedError } from 'sequelize';
import type { NextFunction, Request, Response } from 'express';
import { pino } from 'pino';
import { InputError } from '@imprint/core/patch/inputError';
import { newCutSchema } from '@imprint/contract/api';
import { ApiError, errorHandler } from './errors';

/** What a person is answered when this is thrown. */
function answerTo(error: unknown): { status: number; code: string; message: string; fault?: string } {
  let status = 0;
  let body: unknown;
  const response = {
    headersSent: false,
    status(code: number) {
      status = code;
      return response;
    },
    json: (value: unknown) => (body = value),
  };
  const request = { method: 'PUT', originalUrl: '/api/x' } as Request;
  errorHandler(pino({ level: 'silent' }))(error, request, response as unknown as Response, (() => {}) as NextFunction);
  return { status, ...(body as { error: { code: string; message: string } }).error };
}

/** An error of PostgreSQL as Sequelize passes it on (codes: PostgreSQL 15, appendix A). */
const ofPostgres = (code: string, message = 'x') =>
  new DatabaseError(Object.assign(new Error(message), { code, sql: '' }) as never);

it.each([
  ['a full disk of the database', ofPostgres('53100'), 507, 'diskFull', /disk is full; nothing was changed/],
  ['a full disk of the server', Object.assign(new Error('x'), { code: 'ENOSPC' }), 507, 'diskFull', /disk is full/],
  ['a database that shuts down', ofPostgres('57P01'), 503, 'away', /database does not answer/],
  ['a database that is not there', new ConnectionRefusedError(new Error('x')), 503, 'away', /database does not answer/],
  ['a row that went meanwhile', ofPostgres('23503'), 404, 'notFound', /deleted meanwhile/],
  ['a text with a zero', ofPostgres('22021'), 400, 'badRequest', /cannot be stored/],
  ['an address that cannot be read', new URIError('x'), 400, 'badRequest', /address/],
  ['a file that is none', new InputError('This is not a sound file.'), 422, 'badFile', /not a sound file/],
  ['a refusal', new ApiError('conflict', 'Changed in another window.'), 409, 'conflict', /another window/],
  ['what fits no schema', newCutSchema.safeParse({}).error, 400, 'badRequest', /does not fit: name/],
])('%s is answered in words', (_name, error, status, code, words) => {
  const answer = answerTo(error);
  expect(answer).toMatchObject({ status, code });
  expect(answer.message).toMatch(words);
  expect(answer.fault).toBeUndefined();
});

it('what nobody expected has a number, and says nothing of the inside', () => {
  const { status, message, fault } = answerTo(new Error('password=secret'));
  expect(status).toBe(500);
  expect(fault).toMatch(/^\d{6}$/);
  expect(message).toContain(`Fault ${fault}`);
  expect(message).not.toContain('secret');
});
