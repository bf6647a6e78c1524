import { Router } from 'express';
import multer from 'multer';
import { type KeptProof, newProofSchema } from '@imprint/contract/api';
import { readWav } from '@imprint/core/formats/wav';
import { parsePatch } from '@imprint/core/patch/parse';
import { keepBlob, sendBlob, sweepBlobs } from '../blobs';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { ProofRow } from '../models/models';
import { proofDocument } from './documents';
import { findRow, findStudy, touchStudy } from './find';

const MAX_PROOF_BYTES = 100_000_000;

export function proofsRouter(database: Database): Router {
  const router = Router();
  const { Proof, Cut, Blob } = database;
  const upload = multer({
    storage: multer.memoryStorage(),
    limits: { fileSize: MAX_PROOF_BYTES, fieldSize: 20_000_000 },
  });

  /** Keeps a proof: the print as WAV in the field "file", everything about it as JSON in the field "proof". */
  router.post('/studies/:id/proofs', upload.single('file'), async (request, response) => {
    const study = await findStudy(database, String(request.params.id));
    const { file } = request;
    const { proof: text } = request.body as { proof?: string };
    if (!file || !text)
      throw new ApiError('badRequest', 'A proof needs its sound in "file" and its description in "proof".');
    const fields = newProofSchema.parse(JSON.parse(text));
    parsePatch(fields.patch);
    readWav(file.buffer);
    const cut = await findRow(Cut, fields.cutId, 'cut');
    if (cut.studyId !== study.id) throw new ApiError('badRequest', 'The cut belongs to another study.');
    const id = await database.sequelize.transaction(async (transaction) => {
      const blob = await keepBlob(database, file.buffer, transaction);
      return (await Proof.create({ studyId: study.id, blobId: blob.id, ...fields }, { transaction })).id;
    });
    await touchStudy(database, study.id);
    response.status(201).json(proofDocument(await withBlob(id)));
  });

  async function withBlob(id: string): Promise<ProofRow> {
    const proof = await findRow(Proof, id, 'proof');
    proof.blob = await findRow(Blob, proof.blobId, 'sound');
    return proof;
  }

  router.get('/proofs/:id', async (request, response) => {
    const row = await withBlob(request.params.id);
    const kept: KeptProof = { ...proofDocument(row), patch: parsePatch(row.patch), notes: row.notes };
    response.json(kept);
  });

  router.get('/proofs/:id/audio', async (request, response) => {
    const proof = await findRow(Proof, request.params.id, 'proof');
    response.setHeader('Content-Type', 'audio/wav');
    await sendBlob(database, proof.blobId, response);
  });

  router.delete('/proofs/:id', async (request, response) => {
    const proof = await findRow(Proof, request.params.id, 'proof');
    await database.sequelize.transaction(async (transaction) => {
      await proof.destroy({ transaction });
      await sweepBlobs(database, transaction);
    });
    response.status(204).end();
  });

  return router;
}
