import { Router } from 'express';
import { UniqueConstraintError } from 'sequelize';
import { newShelvedChainSchema } from '@imprint/contract/api';
import type { Database } from '../database';
import { ApiError } from '../errors';
import { shelvedChainDocument } from './documents';
import { findRow } from './find';

export function shelfRouter({ ShelvedChain }: Database): Router {
  const router = Router();

  router.get('/shelf/chains', async (_request, response) => {
    const rows = await ShelvedChain.findAll({ order: [['name', 'ASC']] });
    response.json(rows.map(shelvedChainDocument));
  });

  router.post('/shelf/chains', async (request, response) => {
    const fields = newShelvedChainSchema.parse(request.body);
    const row = await ShelvedChain.create(fields).catch((reason: unknown) => {
      if (!(reason instanceof UniqueConstraintError)) throw reason;
      throw new ApiError(
        'conflict',
        `There is a chain “${fields.name}” on the shelf already. Give this one another name.`,
      );
    });
    response.status(201).json(shelvedChainDocument(row));
  });

  router.delete('/shelf/chains/:id', async (request, response) => {
    const row = await findRow(ShelvedChain, request.params.id, 'chain on the shelf');
    await row.destroy();
    response.status(204).end();
  });

  return router;
}
