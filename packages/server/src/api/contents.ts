import express, { Router } from 'express';
import { Op } from 'sequelize';
import { MAX_CONTENT_BYTES, wantedContentsSchema } from '@imprint/contract/api';
import { contentSchema } from '@imprint/core/patch/contents/packing';
import { contentOfBytes, keepBlob, sendBlob } from '../blobs';
import type { Database } from '../database';
import { ApiError } from '../errors';
import { inTransaction, lock } from '../transactions';

/** The bytes of tables and samples, each kept once under its hash. */
export function contentsRouter(database: Database): Router {
  const router = Router();
  const { Blob } = database;

  /** Which of these have to be sent. Those that are there are kept for the saving that is about to come. */
  router.post('/contents/missing', async (request, response) => {
    const { sha256s } = wantedContentsSchema.parse(request.body);
    const known = await inTransaction(database, async (transaction) => {
      await lock(database, 'blobs', 'together', transaction);
      const where = { sha256: { [Op.in]: sha256s } };
      await Blob.update({ neededAt: new Date() }, { where, transaction });
      return Blob.findAll({ where, attributes: ['sha256'], transaction });
    });
    const there = new Set(known.map(({ sha256 }) => sha256));
    response.json({ missing: sha256s.filter((sha256) => !there.has(sha256)) });
  });

  router.put(
    '/contents/:sha256',
    express.raw({ type: 'application/octet-stream', limit: MAX_CONTENT_BYTES }),
    async (request, response) => {
      const sha256 = contentSchema.shape.sha256.parse(request.params.sha256);
      const bytes: unknown = request.body;
      if (!Buffer.isBuffer(bytes) || bytes.length === 0)
        throw new ApiError('badRequest', 'The bytes are expected as application/octet-stream.');
      const content = contentOfBytes(bytes);
      if (content.sha256 !== sha256)
        throw new ApiError('badRequest', 'These are not the bytes of this hash. Send them again.');
      await inTransaction(database, (transaction) => keepBlob(database, content, [bytes], transaction));
      response.status(204).end();
    },
  );

  router.get('/contents/:sha256', async (request, response) => {
    const sha256 = contentSchema.shape.sha256.parse(request.params.sha256);
    const blob = await Blob.findOne({ where: { sha256 } });
    if (!blob) throw new ApiError('notFound', 'There are no bytes of this hash.');
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader('Content-Length', String(blob.byteLength));
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    await sendBlob(database, blob, response);
  });

  return router;
}
