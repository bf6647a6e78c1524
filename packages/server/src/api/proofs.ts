import { rm } from 'node:fs/promises';
import { Router } from 'express';
import multer from 'multer';
import { type KeptProof, MAX_JSON_BYTES, MAX_UPLOAD_BYTES, newProofSchema } from '@imprint/contract/api';
import { openWav } from '@imprint/core/formats/wav';
import { parsePackedPatch } from '@imprint/core/patch/parse';
import { contentOfFile, keepFile, sendBlob } from '../blobs';
import type { Database } from '../database';
import { ApiError } from '../errors';
import { withFileSource } from '../import/fileSource';
import type { ProofRow } from '../models/models';
import { inTransaction } from '../transactions';
import { proofDocument } from './documents';
import { findCut, findProof, findRow, findStudy, touchStudy } from './find';
import { referTo } from './revisions';
import { checkStorable } from '../storable';

export function proofsRouter(database: Database, uploadFolder: string): Router {
  const router = Router();
  const { Proof, Blob } = database;
  const upload = multer({
    dest: uploadFolder,
    limits: { fileSize: MAX_UPLOAD_BYTES, files: 1, fields: 4, fieldSize: MAX_JSON_BYTES },
  });

  /**
   * Keeps a proof: the print as WAV in the field "file", everything about it as JSON in the field "proof".
   */
  router.post('/studies/:id/proofs', upload.single('file'), async (request, response) => {
    const { file } = request;
    try {
      const { proof: text } = (request.body ?? {}) as { proof?: string };
      if (!file || !text)
        throw new ApiError('badRequest', 'A proof needs its sound in "file" and its description in "proof".');
      const fields = newProofSchema.parse(checkStorable(JSON.parse(text)));
      const patch = parsePackedPatch(fields.patch);
      withFileSource(file.path, openWav);
      const content = await contentOfFile(file.path);
      const { overallJnd } = fields.comparison;
      const id = await inTransaction(database, async (transaction) => {
        const study = await findStudy(database, String(request.params.id), { transaction, hold: 'share' });
        const { cut } = await findCut(database, fields.cutId, { transaction, hold: 'share' });
        if (cut.studyId !== study.id) throw new ApiError('badRequest', 'The cut belongs to another study.');
        const blobId = await keepFile(database, file.path, content, transaction);
        const proof = await Proof.create({ studyId: study.id, blobId, overallJnd, ...fields, patch }, { transaction });
        await referTo(database, 'proof', proof.id, patch, transaction);
        await touchStudy(database, study.id, transaction);
        return proof.id;
      });
      response.status(201).json(proofDocument(await withBlob(id)));
    } finally {
      if (file) await rm(file.path, { force: true });
    }
  });

  async function withBlob(id: string): Promise<ProofRow> {
    const proof = await findProof(database, id);
    proof.blob = await findRow(Blob, proof.blobId, 'sound');
    return proof;
  }

  router.get('/proofs/:id', async (request, response) => {
    const row = await withBlob(request.params.id);
    const kept: KeptProof = { ...proofDocument(row), patch: parsePackedPatch(row.patch), notes: row.notes };
    response.json(kept);
  });

  router.get('/proofs/:id/audio', async (request, response) => {
    const { blob } = await withBlob(request.params.id);
    response.setHeader('Content-Type', 'audio/wav');
    response.setHeader('Content-Length', String(blob!.byteLength));
    await sendBlob(database, blob!, response);
  });

  /** Puts a proof into the trash. */
  router.delete('/proofs/:id', async (request, response) => {
    await inTransaction(database, async (transaction) => {
      const proof = await findProof(database, request.params.id, { transaction, hold: 'change' });
      await proof.update({ deletedAt: new Date() }, { transaction });
    });
    response.status(204).end();
  });

  return router;
}
