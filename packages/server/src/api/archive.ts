import { Router } from 'express';
import { changeBack, replacedAt } from '../archive/replace';
import { readArchive } from '../archive/readArchive';
import { writeArchive } from '../archive/writeArchive';
import type { Database } from '../database';
import { ApiError } from '../errors';

/** Everything in the database as one file, and back. */
export function archiveRouter(database: Database): Router {
  const router = Router();
  let reading = false;

  router.get('/archive', async (_request, response) => {
    const day = new Date().toISOString().slice(0, 10);
    response.setHeader('Content-Type', 'application/x-tar');
    response.setHeader('Content-Disposition', `attachment; filename="imprint-${day}.tar"`);
    try {
      await writeArchive(database, response);
    } catch (error) {
      // Whoever downloads it went away.
      if ((error as NodeJS.ErrnoException).code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
    }
  });

  /** Puts what the archive in the body holds in the place of everything. */
  router.put('/archive', async (request, response) => {
    if (reading) throw new ApiError('conflict', 'An archive is being brought back already. Wait until it is done.');
    reading = true;
    try {
      response.json(await readArchive(database, request));
    } finally {
      reading = false;
    }
  });

  /** Whether what the last archive replaced can be had back. */
  router.get('/archive/replaced', async (_request, response) => {
    response.json({ replacedAt: await replacedAt(database) });
  });

  router.post('/archive/replaced/back', async (_request, response) => {
    if (!(await changeBack(database))) throw new ApiError('notFound', 'No archive has replaced anything here.');
    response.json({ replacedAt: await replacedAt(database) });
  });

  return router;
}
