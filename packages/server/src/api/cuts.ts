import { isDeepStrictEqual } from 'node:util';
import { Router } from 'express';
import type { Transaction } from 'sequelize';
import { type KeptReading, changedCutSchema, keptReadingSchema, newCutSchema } from '@imprint/contract/api';
import { readingSchema } from '@imprint/core/reading/schema';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { StudyRow } from '../models/models';
import { inTransaction } from '../transactions';
import { cutDocument } from './documents';
import { findCut, isMade, findRow, findStudy, touchStudy } from './find';

export function cutsRouter(database: Database): Router {
  const router = Router();
  const { Cut, Reading, Reference } = database;

  router.post('/studies/:id/cuts', async (request, response) => {
    const fields = newCutSchema.parse(request.body);
    const cut = await inTransaction(database, async (transaction) => {
      // Held alone: the same cut sent twice at once is then found by the second.
      const study = await findStudy(database, request.params.id, { transaction, hold: 'change' });
      await checkInside(study, fields.toSeconds, transaction);
      // The page names the cut, so one that is sent again after a lost answer is the one that was made.
      const known = fields.id === undefined ? null : await Cut.findByPk(fields.id, { transaction });
      if (known && known.studyId !== study.id)
        throw new ApiError('conflict', 'There is a cut of this id in another study.');
      await touchStudy(database, study.id, transaction);
      return known ?? Cut.create({ studyId: study.id, ...fields }, { transaction });
    });
    response.status(201).json(cutDocument(cut));
  });

  router.patch('/cuts/:id', async (request, response) => {
    const { revision, saveId, ...changes } = changedCutSchema.parse(request.body);
    const changed = await inTransaction(database, async (transaction) => {
      const { cut, study } = await findCut(database, request.params.id, { transaction, hold: 'change' });
      if (isMade(cut, { revision, saveId }, `The cut “${cut.name}”`, () => cutDocument(cut))) return cut;
      const fields = newCutSchema.parse({ ...cutDocument(cut), ...changes });
      await checkInside(study, fields.toSeconds, transaction);
      // What is measured is what is kept.
      if (!isDeepStrictEqual(fields.isolation, cut.isolation))
        await Reading.destroy({ where: { cutId: cut.id }, transaction });
      await touchStudy(database, study.id, transaction);
      return cut.update({ ...fields, saveId: saveId ?? null, revision: cut.revision + 1 }, { transaction });
    });
    response.json(cutDocument(changed));
  });

  /** Puts a cut into the trash. */
  router.delete('/cuts/:id', async (request, response) => {
    await inTransaction(database, async (transaction) => {
      const { cut, study } = await findCut(database, request.params.id, { transaction, hold: 'change' });
      await cut.update({ deletedAt: new Date() }, { transaction });
      await touchStudy(database, study.id, transaction);
    });
    response.status(204).end();
  });

  /**
   * The kept reading, or null when there is none, it lacks what is read now, or the cut has been moved since.
   */
  router.get('/cuts/:id/reading', async (request, response) => {
    const { cut } = await findCut(database, request.params.id);
    const row = await Reading.findOne({ where: { cutId: cut.id } });
    const fits = row && row.fromSeconds === cut.fromSeconds && row.toSeconds === cut.toSeconds;
    const kept: KeptReading | null =
      fits && readingSchema.safeParse(row.document).success
        ? { fromSeconds: row.fromSeconds, toSeconds: row.toSeconds, reading: row.document }
        : null;
    response.json(kept);
  });

  router.put('/cuts/:id/reading', async (request, response) => {
    const { fromSeconds, toSeconds, reading } = keptReadingSchema.parse(request.body);
    await inTransaction(database, async (transaction) => {
      const { cut } = await findCut(database, request.params.id, { transaction, hold: 'change' });
      await Reading.destroy({ where: { cutId: cut.id }, transaction });
      await Reading.create({ cutId: cut.id, fromSeconds, toSeconds, document: reading }, { transaction });
    });
    response.status(204).end();
  });

  async function checkInside({ referenceId }: StudyRow, toSeconds: number, transaction: Transaction): Promise<void> {
    const { durationSeconds } = await findRow(Reference, referenceId, 'reference', { transaction, hold: 'share' });
    if (toSeconds <= durationSeconds + 0.001) return;
    throw new ApiError(
      'badRequest',
      `The cut ends at ${toSeconds.toFixed(2)} s, after the reference, which ends at ${durationSeconds.toFixed(2)} s.`,
    );
  }

  return router;
}
