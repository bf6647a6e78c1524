import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { Router } from 'express';
import multer from 'multer';
import { Op } from 'sequelize';
import {
  MAX_UPLOAD_BYTES,
  type OpenedStudy,
  type Study,
  changedStudySchema,
  copyStudySchema,
} from '@imprint/contract/api';
import { fittingName } from '@imprint/core/patch/names';
import { OVERVIEW_VERSION, overviewSchema } from '@imprint/core/reading/piece/overview';
import { sendBlob } from '../blobs';
import type { Database } from '../database';
import { ApiError } from '../errors';
import { importReference } from '../import/importReference';
import type { StudyRow } from '../models/models';
import { inTransaction } from '../transactions';
import { cutDocument, proofDocument, studyDocument } from './documents';
import { findRow, findStudy, isMade, summariesOf } from './find';
import { currentPatch, keepRevision } from './revisions';

export function studiesRouter(database: Database, uploadFolder: string): Router {
  const router = Router();
  const { Study, Cut, Proof, Reading, Reference } = database;
  const upload = multer({ dest: uploadFolder, limits: { fileSize: MAX_UPLOAD_BYTES, files: 1, fields: 4 } });

  const documentOf = async (row: StudyRow): Promise<Study> =>
    studyDocument(row, (await summariesOf(database, [row])).get(row.id)!);

  router.get('/studies', async (_request, response) => {
    const rows = await Study.findAll({ where: { deletedAt: null }, order: [['updatedAt', 'DESC']] });
    const summaries = await summariesOf(database, rows);
    // A study that is deleted for good between the two questions is in the first answer only.
    response.json(rows.filter(({ id }) => summaries.has(id)).map((row) => studyDocument(row, summaries.get(row.id)!)));
  });

  /** A new study from an uploaded file; `again` asks for one even when the file is known. */
  router.post('/studies', upload.single('file'), async (request, response) => {
    const { file } = request;
    if (!file) throw new ApiError('badRequest', 'A study needs a sound file in the field "file".');
    try {
      // Multer reads names as Latin-1; browsers send UTF-8.
      const sent = basename(Buffer.from(file.originalname, 'latin1').toString('utf8'));
      const fileName = fittingName(sent, 'Untitled');
      const title = fittingName(basename(sent, extname(sent)), 'Untitled study');
      const { study, alreadyKnown } = await importReference(
        database,
        file.path,
        fileName,
        async (reference, transaction) => {
          const earlier =
            request.query.again === undefined
              ? await Study.findOne({
                  where: { referenceId: reference.id, deletedAt: null },
                  order: [['createdAt', 'ASC']],
                  transaction,
                })
              : null;
          const fields = { referenceId: reference.id, title, role: null, demoId: null };
          return { study: earlier ?? (await Study.create(fields, { transaction })), alreadyKnown: earlier !== null };
        },
      );
      response.status(alreadyKnown ? 200 : 201).json({ study: await documentOf(study), alreadyKnown });
    } finally {
      await rm(file.path, { force: true });
    }
  });

  router.get('/studies/:id', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    const { overview } = await findRow(Reference, study.referenceId, 'reference');
    const cuts = await Cut.findAll({ where: { studyId: study.id, deletedAt: null }, order: [['fromSeconds', 'ASC']] });
    const proofs = await Proof.findAll({
      where: { studyId: study.id, deletedAt: null },
      attributes: { exclude: ['patch', 'notes'] },
      include: [{ association: 'blob' }],
      order: [['createdAt', 'DESC']],
    });
    const opened: OpenedStudy = {
      study: await documentOf(study),
      cuts: cuts.map(cutDocument),
      proofs: proofs.map(proofDocument),
      patch: await currentPatch(database, study.id),
      overview: overview?.version === OVERVIEW_VERSION ? overview : null,
    };
    response.json(opened);
  });

  router.patch('/studies/:id', async (request, response) => {
    const { revision, saveId, ...changes } = changedStudySchema.parse(request.body);
    const study = await inTransaction(database, async (transaction) => {
      const row = await findStudy(database, request.params.id, { transaction, hold: 'change' });
      const current = () => ({ ...row.get(), demo: row.demoId !== null });
      if (isMade(row, { revision, saveId }, `“${row.title}”`, current)) return row;
      const next = { revision: row.revision + 1, saveId: saveId ?? null, updatedAt: new Date() };
      return row.update({ ...changes, ...next }, { transaction });
    });
    response.json(await documentOf(study));
  });

  /** Puts a study into the trash. */
  router.delete('/studies/:id', async (request, response) => {
    await inTransaction(database, async (transaction) => {
      const study = await findStudy(database, request.params.id, { transaction, hold: 'change' });
      await study.update({ deletedAt: new Date() }, { transaction });
    });
    response.status(204).end();
  });

  /** Another study of the same reference, with the same cuts and readings and a patch of its own. */
  router.post('/studies/:id/copies', async (request, response) => {
    const { title, patch } = copyStudySchema.parse(request.body);
    const copy = await inTransaction(database, async (transaction) => {
      const original = await findStudy(database, request.params.id, { transaction, hold: 'share' });
      const { referenceId, note, role, grid } = original;
      const study = await Study.create({ referenceId, note, role, grid, title, demoId: null }, { transaction });
      const cuts = await Cut.findAll({ where: { studyId: original.id, deletedAt: null }, transaction });
      const readings = await Reading.findAll({ where: { cutId: { [Op.in]: cuts.map(({ id }) => id) } }, transaction });
      for (const cut of cuts) {
        const id = randomUUID();
        await Cut.create({ ...cut.get(), id, studyId: study.id, revision: 1 }, { transaction });
        const reading = readings.find(({ cutId }) => cutId === cut.id);
        if (reading) await Reading.create({ ...reading.get(), id: randomUUID(), cutId: id }, { transaction });
      }
      await keepRevision(database, study.id, { saveId: randomUUID(), base: null, patch, name: null }, transaction);
      return study;
    });
    response.status(201).json(await documentOf(copy));
  });

  router.put('/references/:id/overview', async (request, response) => {
    const overview = overviewSchema.parse(request.body);
    await inTransaction(database, async (transaction) => {
      const reference = await findRow(Reference, request.params.id, 'reference', { transaction, hold: 'change' });
      await reference.update({ overview }, { transaction });
    });
    response.status(204).end();
  });

  /** The original bytes. They never change, so a browser may keep them. */
  router.get('/references/:id/audio', async (request, response) => {
    const reference = await findRow(Reference, request.params.id, 'reference');
    const blob = await findRow(database.Blob, reference.blobId, 'sound');
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader('Content-Length', String(blob.byteLength));
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    await sendBlob(database, blob, response);
  });

  return router;
}
