import { join } from 'node:path';
import express, { type Express } from 'express';
import type { Logger } from 'pino';
import { cutsRouter } from './api/cuts';
import { patchesRouter } from './api/patches';
import { proofsRouter } from './api/proofs';
import { shelfRouter } from './api/shelf';
import { studiesRouter } from './api/studies';
import type { Database } from './database';
import { ApiError, errorHandler } from './errors';
import { onlyLoopback, securityHeaders } from './security';

/** The API and, when `webFolder` is given, the built page. */
export function createApp(database: Database, log: Logger, webFolder?: string): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(onlyLoopback, securityHeaders);
  app.use('/api', express.json({ limit: '20mb' }));
  app.get('/api/health', (_request, response) => {
    response.json({ ok: true });
  });
  app.use(
    '/api',
    ...[studiesRouter, cutsRouter, patchesRouter, proofsRouter, shelfRouter].map((router) => router(database)),
  );
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
  app.use(errorHandler(log));
  return app;
}
