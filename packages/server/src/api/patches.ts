import { Router } from 'express';
import { type KeptPatch, changedRevisionSchema, newRevisionSchema } from '@imprint/contract/api';
import { parsePackedPatch } from '@imprint/core/patch/parse';
import type { Database } from '../database';
import { inTransaction } from '../transactions';
import { revisionDocument } from './documents';
import { findRow, findStudy, touchStudy } from './find';
import { currentPatch, keepRevision } from './revisions';

export function patchesRouter(database: Database): Router {
  const router = Router();
  const { Patch, Revision } = database;

  /** Keeps a state of the patch as a new revision. */
  router.put('/studies/:id/patch', async (request, response) => {
    const saving = newRevisionSchema.parse(request.body);
    const revision = await inTransaction(database, async (transaction) => {
      const study = await findStudy(database, request.params.id, { transaction, hold: 'share' });
      const row = await keepRevision(database, study.id, saving, transaction);
      await touchStudy(database, study.id, transaction);
      return row;
    });
    response.status(201).json(revisionDocument(revision));
  });

  router.get('/studies/:id/patch', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    response.json(await currentPatch(database, study.id));
  });

  router.get('/studies/:id/revisions', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    const patch = await Patch.findOne({ where: { studyId: study.id } });
    const rows = patch
      ? await Revision.findAll({
          where: { patchId: patch.id },
          attributes: { exclude: ['document'] },
          order: [['number', 'DESC']],
        })
      : [];
    response.json(rows.map(revisionDocument));
  });

  /** Names or pins one, so that it is kept for good. */
  router.patch('/revisions/:id', async (request, response) => {
    const fields = changedRevisionSchema.parse(request.body);
    const row = await findRow(Revision, request.params.id, 'revision');
    await row.update(fields);
    response.json(revisionDocument(row));
  });

  router.get('/revisions/:id', async (request, response) => {
    const row = await findRow(Revision, request.params.id, 'revision');
    const kept: KeptPatch = { revision: revisionDocument(row), patch: parsePackedPatch(row.document) };
    response.json(kept);
  });

  return router;
}
