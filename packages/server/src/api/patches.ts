import { Router } from 'express';
import { type Transaction, Op } from 'sequelize';
import { type KeptPatch, newRevisionSchema } from '@imprint/contract/api';
import { parsePatch } from '@imprint/core/patch/parse';
import type { Patch } from '@imprint/core/patch/schema';
import type { Database } from '../database';
import type { RevisionRow } from '../models/models';
import { revisionDocument } from './documents';
import { findRow, findStudy, touchStudy } from './find';

/** Unnamed revisions that are kept; named ones are kept for good. */
const KEPT_UNNAMED = 60;

export function patchesRouter(database: Database): Router {
  const router = Router();
  const { Patch, Revision } = database;

  /** Keeps a state of the patch as a new revision. */
  router.put('/studies/:id/patch', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    const { patch: document, name } = newRevisionSchema.parse(request.body);
    parsePatch(document);
    const revision = await database.sequelize.transaction(async (transaction) => {
      await Patch.findOrCreate({ where: { studyId: study.id }, transaction });
      // Two savings at once must not take the same number: the patch row is the lock.
      const patch = await Patch.findOne({ where: { studyId: study.id }, lock: transaction.LOCK.UPDATE, transaction });
      const row = await addRevision(patch!.id, document, name, transaction);
      await forgetOldRevisions(patch!.id, transaction);
      return row;
    });
    await touchStudy(database, study.id);
    response.status(201).json(revisionDocument(revision));
  });

  async function addRevision(patchId: string, document: Patch, name: string | null, transaction: Transaction) {
    const last = await Revision.max<number, RevisionRow>('number', { where: { patchId }, transaction });
    return Revision.create({ patchId, number: (last ?? 0) + 1, name, document }, { transaction });
  }

  async function forgetOldRevisions(patchId: string, transaction: Transaction): Promise<void> {
    const unnamed = await Revision.findAll({
      where: { patchId, name: null },
      attributes: ['id'],
      order: [['number', 'DESC']],
      offset: KEPT_UNNAMED,
      transaction,
    });
    await Revision.destroy({ where: { id: { [Op.in]: unnamed.map(({ id }) => id) } }, transaction });
  }

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

  router.get('/revisions/:id', async (request, response) => {
    const row = await findRow(Revision, request.params.id, 'revision');
    const kept: KeptPatch = { revision: revisionDocument(row), patch: parsePatch(row.document) };
    response.json(kept);
  });

  return router;
}

/** The newest revision of a study's patch, or null before the first. */
export async function currentPatch({ Patch, Revision }: Database, studyId: string): Promise<KeptPatch | null> {
  const patch = await Patch.findOne({ where: { studyId } });
  const row = patch && (await Revision.findOne({ where: { patchId: patch.id }, order: [['number', 'DESC']] }));
  return row ? { revision: revisionDocument(row), patch: parsePatch(row.document) } : null;
}
