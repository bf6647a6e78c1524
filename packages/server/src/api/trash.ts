import { Router } from 'express';
import { type Model, type ModelStatic, QueryTypes, type Transaction } from 'sequelize';
import { z } from 'zod';
import { type TrashItem, type TrashKind, trashKinds } from '@imprint/contract/api';
import { sweepBlobs } from '../blobs';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { CutRow, ProofRow, StudyRow } from '../models/models';
import { inTransaction } from '../transactions';
import { findRow, findStudy, touchStudy } from './find';

const addressSchema = z.object({ kind: z.enum(trashKinds), id: z.string() });

/** What was deleted and can be put back. */
export function trashRouter(database: Database): Router {
  const router = Router();
  const { sequelize, Study, Cut, Proof } = database;
  const models: Record<TrashKind, ModelStatic<StudyRow | CutRow | ProofRow>> = { study: Study, cut: Cut, proof: Proof };

  router.get('/trash', async (_request, response) => {
    const rows = await sequelize.query<Omit<TrashItem, 'deletedAt'> & { deletedAt: Date }>(
      `SELECT 'study' AS kind, id, title AS name, title AS "studyTitle", deleted_at AS "deletedAt"
         FROM studies WHERE deleted_at IS NOT NULL
       UNION ALL SELECT 'cut', c.id, c.name, s.title, c.deleted_at
         FROM cuts c JOIN studies s ON s.id = c.study_id WHERE c.deleted_at IS NOT NULL
       UNION ALL SELECT 'proof', p.id, p.name, s.title, p.deleted_at
         FROM proofs p JOIN studies s ON s.id = p.study_id WHERE p.deleted_at IS NOT NULL
       ORDER BY "deletedAt" DESC`,
      { type: QueryTypes.SELECT },
    );
    response.json(rows.map((row) => ({ ...row, deletedAt: row.deletedAt.toISOString() })));
  });

  /** Puts something back where it was. */
  router.post('/trash/:kind/:id/back', async (request, response) => {
    const { kind, id } = parseAddress(request.params);
    await inTransaction(database, async (transaction) => {
      const row = await findDeleted(kind, id, transaction);
      const studyId = 'studyId' in row ? row.studyId : row.id;
      if (kind !== 'study') await findStudy(database, studyId, { transaction, hold: 'share' });
      await (row as Model).update({ deletedAt: null }, { transaction });
      await touchStudy(database, studyId, transaction);
    });
    response.status(204).end();
  });

  /** Deletes one thing for good. */
  router.delete('/trash/:kind/:id', async (request, response) => {
    const { kind, id } = parseAddress(request.params);
    await inTransaction(database, async (transaction) => {
      await (await findDeleted(kind, id, transaction)).destroy({ transaction });
      await sweepBlobs(database, transaction);
    });
    response.status(204).end();
  });

  /** Deletes all of it for good. */
  router.delete('/trash', async (_request, response) => {
    await inTransaction(database, (transaction) => emptyTrash(database, 0, transaction));
    response.status(204).end();
  });

  async function findDeleted(kind: TrashKind, id: string, transaction: Transaction) {
    const row = await findRow(models[kind], id, `${kind} in the trash`, { transaction, hold: 'change' });
    if (!row.deletedAt) throw new ApiError('notFound', `This ${kind} is not in the trash.`);
    return row;
  }

  return router;
}

function parseAddress(parameters: unknown): z.infer<typeof addressSchema> {
  const address = addressSchema.safeParse(parameters);
  if (!address.success) throw new ApiError('notFound', 'There is nothing at this address.');
  return address.data;
}

/** Deletes for good what has been in the trash for so many days. */
export async function emptyTrash(database: Database, days: number, transaction: Transaction): Promise<void> {
  const table = (name: string) => `DELETE FROM ${name} WHERE deleted_at <= now() - make_interval(days => ${days});`;
  await database.sequelize.query(['proofs', 'cuts', 'studies'].map(table).join('\n'), { transaction });
  await sweepBlobs(database, transaction);
}
