import { isDeepStrictEqual } from 'node:util';
import { Router } from 'express';
import { type KeptReading, changedCutSchema, keptReadingSchema, newCutSchema } from '@imprint/contract/api';
import { readingSchema } from '@imprint/core/reading/schema';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { StudyRow } from '../models/models';
import { cutDocument } from './documents';
import { findRow, findStudy, touchStudy } from './find';

export function cutsRouter(database: Database): Router {
  const router = Router();
  const { Cut, Reading } = database;

  router.post('/studies/:id/cuts', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    const fields = newCutSchema.parse(request.body);
    checkInside(study, fields.toSeconds);
    const cut = await Cut.create({ studyId: study.id, ...fields });
    await touchStudy(database, study.id);
    response.status(201).json(cutDocument(cut));
  });

  router.patch('/cuts/:id', async (request, response) => {
    const cut = await findRow(Cut, request.params.id, 'cut');
    const fields = newCutSchema.parse({ ...cutDocument(cut), ...changedCutSchema.parse(request.body) });
    checkInside(await findStudy(database, cut.studyId), fields.toSeconds);
    // What is measured is what is kept.
    const keepsOther = !isDeepStrictEqual(fields.isolation, cut.isolation);
    await database.sequelize.transaction(async (transaction) => {
      if (keepsOther) await Reading.destroy({ where: { cutId: cut.id }, transaction });
      await cut.update(fields, { transaction });
    });
    await touchStudy(database, cut.studyId);
    response.json(cutDocument(cut));
  });

  router.delete('/cuts/:id', async (request, response) => {
    const cut = await findRow(Cut, request.params.id, 'cut');
    await cut.destroy();
    await touchStudy(database, cut.studyId);
    response.status(204).end();
  });

  /** The kept reading, or null when there is none, it lacks what is read now, or the cut has been moved since. */
  router.get('/cuts/:id/reading', async (request, response) => {
    const cut = await findRow(Cut, request.params.id, 'cut');
    const row = await Reading.findOne({ where: { cutId: cut.id } });
    const fits = row && row.fromSeconds === cut.fromSeconds && row.toSeconds === cut.toSeconds;
    const kept: KeptReading | null =
      fits && readingSchema.safeParse(row.document).success
        ? { fromSeconds: row.fromSeconds, toSeconds: row.toSeconds, reading: row.document }
        : null;
    response.json(kept);
  });

  router.put('/cuts/:id/reading', async (request, response) => {
    const cut = await findRow(Cut, request.params.id, 'cut');
    const { fromSeconds, toSeconds, reading } = keptReadingSchema.parse(request.body);
    await database.sequelize.transaction(async (transaction) => {
      await Reading.destroy({ where: { cutId: cut.id }, transaction });
      await Reading.create({ cutId: cut.id, fromSeconds, toSeconds, document: reading }, { transaction });
    });
    response.status(204).end();
  });

  return router;
}

function checkInside({ reference }: StudyRow, toSeconds: number): void {
  const { durationSeconds } = reference!;
  if (toSeconds > durationSeconds + 0.001) {
    throw new ApiError(
      'badRequest',
      `The cut ends at ${toSeconds.toFixed(2)} s, after the reference, which ends at ${durationSeconds.toFixed(2)} s.`,
    );
  }
}
