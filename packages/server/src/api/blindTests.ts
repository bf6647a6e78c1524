import { Router } from 'express';
import { type BlindTest, answersSchema, newBlindTestSchema } from '@imprint/contract/blindTests';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { BlindTestRow } from '../models/models';
import { inTransaction } from '../transactions';
import { findRow, findStudy } from './find';

const SHOWN_TESTS = 50;

/** Blind tests: every answer is kept as it is given. */
export function blindTestsRouter(database: Database): Router {
  const router = Router();
  const { BlindTest } = database;

  router.get('/studies/:id/blind-tests', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    const order: [string, string][] = [['createdAt', 'DESC']];
    const rows = await BlindTest.findAll({ where: { studyId: study.id }, order, limit: SHOWN_TESTS });
    response.json(rows.map(documentOf));
  });

  router.post('/studies/:id/blind-tests', async (request, response) => {
    const fields = newBlindTestSchema.parse(request.body);
    const test = await inTransaction(database, async (transaction) => {
      const study = await findStudy(database, request.params.id, { transaction, hold: 'change' });
      const known = await BlindTest.findByPk(fields.id, { transaction });
      if (known && known.studyId !== study.id)
        throw new ApiError('conflict', 'There is a blind test of this id in another study.');
      return known ?? BlindTest.create({ ...fields, studyId: study.id }, { transaction });
    });
    response.status(201).json(documentOf(test));
  });

  router.put('/blind-tests/:id/trials', async (request, response) => {
    const { trials } = answersSchema.parse(request.body);
    const test = await inTransaction(database, async (transaction) => {
      const row = await findRow(BlindTest, request.params.id, 'blind test', { transaction, hold: 'change' });
      await findStudy(database, row.studyId);
      if (trials.length > row.planned) throw new ApiError('conflict', `The test has ${row.planned} answers.`);
      const added = trials.slice(row.trials.length);
      return added.length === 0 ? row : row.update({ trials: [...row.trials, ...added] }, { transaction });
    });
    response.json(documentOf(test));
  });

  router.delete('/blind-tests/:id', async (request, response) => {
    const row = await findRow(BlindTest, request.params.id, 'blind test');
    await row.destroy();
    response.status(204).end();
  });

  return router;
}

const documentOf = ({ id, what, planned, trials, createdAt }: BlindTestRow): BlindTest => ({
  id,
  what,
  planned,
  trials,
  createdAt: createdAt.toISOString(),
});
