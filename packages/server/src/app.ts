import { join } from 'node:path';
import express, { type Express, type Router } from 'express';
import type { Logger } from 'pino';
import { MAX_JSON_BYTES } from '@imprint/contract/api';
import { archiveRouter } from './api/archive';
import { blindTestsRouter } from './api/blindTests';
import { contentsRouter } from './api/contents';
import { cutsRouter } from './api/cuts';
import { patchesRouter } from './api/patches';
import { proofsRouter } from './api/proofs';
import { runsRouter } from './api/runs';
import { shelfRouter } from './api/shelf';
import { studiesRouter } from './api/studies';
import { trashRouter } from './api/trash';
import { windowsRouter } from './api/windows';
import type { Database } from './database';
import { ApiError, errorHandler } from './errors';
import { onlyLoopback, securityHeaders } from './security';
import { closeSlowBodies } from './slowRequests';
import { onlyStorable } from './storable';

interface AppOptions {
  database: Database;
  log: Logger;
  /** Where files on their way in are put. */
  uploadFolder: string;
  /** Where the database has its files, when that is known. */
  dataFolder?: string;
  /** The built page; only the API without it. */
  webFolder?: string;
}

/** The API and the built page. */
export function createApp({ database, log, uploadFolder, dataFolder, webFolder }: AppOptions): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(onlyLoopback, securityHeaders, closeSlowBodies());
  app.use('/api', express.json({ limit: MAX_JSON_BYTES }), onlyStorable);
  // Not only whether this program runs: without its database it can do nothing.
  app.get('/api/health', async (_request, response) => {
    await database.sequelize.query('SELECT 1');
    response.json({ ok: true });
  });
  const routers: Router[] = [
    studiesRouter(database, uploadFolder),
    cutsRouter(database),
    patchesRouter(database),
    proofsRouter(database, uploadFolder),
    contentsRouter(database),
    runsRouter(database),
    blindTestsRouter(database),
    shelfRouter(database),
    trashRouter(database),
    windowsRouter(database),
    archiveRouter(database),
  ];
  app.use('/api', ...routers);
  app.use('/api', () => {
    throw new ApiError('notFound', 'There is nothing at this address.');
  });
  if (webFolder) {
    app.use(
      '/assets',
      express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
    );
    app.use(express.static(webFolder));
    app.get('/{*path}', (_request, response) => response.sendFile('index.html', { root: webFolder }));
  }
  app.use(errorHandler(log, dataFolder));
  return app;
}
