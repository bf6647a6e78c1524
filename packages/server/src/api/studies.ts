import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, extname } from 'node:path';
import { Router } from 'express';
import multer from 'multer';
import { MAX_UPLOAD_BYTES, type OpenedStudy, changedStudySchema } from '@imprint/contract/api';
import { sendBlob, sweepBlobs } from '../blobs';
import { OVERVIEW_VERSION, overviewSchema } from '@imprint/core/reading/overview';
import type { Database } from '../database';
import { ApiError } from '../errors';
import { importReference } from '../import/importReference';
import { cutDocument, proofDocument, studyDocument } from './documents';
import { findRow, findStudy, studyIncludes } from './find';
import { currentPatch } from './patches';

export function studiesRouter(database: Database): Router {
  const router = Router();
  const { Study, Cut, Proof, Reference } = database;
  const upload = multer({ dest: tmpdir(), limits: { fileSize: MAX_UPLOAD_BYTES, files: 1 } });

  router.get('/studies', async (_request, response) => {
    const rows = await Study.findAll({ include: studyIncludes(), order: [['updatedAt', 'DESC']] });
    response.json(rows.map(studyDocument));
  });

  /** A new study from an uploaded file; `again` asks for one even when the file is known. */
  router.post('/studies', upload.single('file'), async (request, response) => {
    const { file } = request;
    if (!file) throw new ApiError('badRequest', 'A study needs a sound file in the field "file".');
    try {
      // Multer reads names as Latin-1; browsers send UTF-8.
      const fileName = basename(Buffer.from(file.originalname, 'latin1').toString('utf8'));
      const { reference, alreadyKnown } = await importReference(database, file.path, fileName);
      const earlier = alreadyKnown && request.query.again === undefined ? await earliestStudyOf(reference.id) : null;
      const title = basename(fileName, extname(fileName)).slice(0, 120) || 'Untitled study';
      const study = earlier ?? (await Study.create({ referenceId: reference.id, title, role: null, demoId: null }));
      response
        .status(earlier ? 200 : 201)
        .json({ study: studyDocument(await findStudy(database, study.id)), alreadyKnown: earlier !== null });
    } finally {
      await rm(file.path, { force: true });
    }
  });

  const earliestStudyOf = (referenceId: string) =>
    Study.findOne({ where: { referenceId }, order: [['createdAt', 'ASC']] });

  router.get('/studies/:id', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    const { overview } = study.reference!;
    const cuts = await Cut.findAll({ where: { studyId: study.id }, order: [['fromSeconds', 'ASC']] });
    const proofs = await Proof.findAll({
      where: { studyId: study.id },
      attributes: { exclude: ['patch', 'notes'] },
      include: [{ association: 'blob' }],
      order: [['createdAt', 'DESC']],
    });
    const opened: OpenedStudy = {
      study: studyDocument(study),
      cuts: cuts.map(cutDocument),
      proofs: proofs.map(proofDocument),
      patch: await currentPatch(database, study.id),
      overview: overview?.version === OVERVIEW_VERSION ? overview : null,
    };
    response.json(opened);
  });

  router.patch('/studies/:id', async (request, response) => {
    const changes = changedStudySchema.parse(request.body);
    const study = await findRow(Study, request.params.id, 'study');
    await study.update({ ...changes, updatedAt: new Date() });
    response.json(studyDocument(await findStudy(database, study.id)));
  });

  router.delete('/studies/:id', async (request, response) => {
    const study = await findRow(Study, request.params.id, 'study');
    await database.sequelize.transaction(async (transaction) => {
      await study.destroy({ transaction });
      await sweepBlobs(database, transaction);
    });
    response.status(204).end();
  });

  router.put('/references/:id/overview', async (request, response) => {
    const reference = await findRow(Reference, request.params.id, 'reference');
    await reference.update({ overview: overviewSchema.parse(request.body) });
    response.status(204).end();
  });

  /** The original bytes. They never change, so a browser may keep them. */
  router.get('/references/:id/audio', async (request, response) => {
    const reference = await findRow(Reference, request.params.id, 'reference');
    const blob = await findRow(database.Blob, reference.blobId, 'sound');
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader('Content-Length', String(blob.byteLength));
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    await sendBlob(database, blob.id, response);
  });

  return router;
}
