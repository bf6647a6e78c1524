import { Router } from 'express';
import { type Pulse, windowSchema } from '@imprint/contract/api';
import type { Database } from '../database';
import { findStudy } from './find';
import { newestRevisionNumber } from './revisions';

/** A window that has said nothing for so long is closed, or its machine asleep. */
const FORGOTTEN_AFTER_MS = 25_000;

/**
 * Which windows have which study open. Only as long as the server runs: they say it again every few seconds.
 */
export function windowsRouter(database: Database): Router {
  const router = Router();
  const seen = new Map<string, Map<string, number>>();

  /** Tells that a window has a study open, and what the other windows did. */
  router.post('/studies/:id/windows', async (request, response) => {
    const { windowId } = windowSchema.parse(request.body);
    const study = await findStudy(database, request.params.id);
    const windows = seen.get(study.id) ?? new Map<string, number>();
    windows.set(windowId, Date.now());
    seen.set(study.id, windows);
    const pulse: Pulse = {
      others: othersThan(windowId, windows),
      revision: await newestRevisionNumber(database, study.id),
    };
    response.json(pulse);
  });

  router.delete('/studies/:id/windows/:windowId', (request, response) => {
    const windows = seen.get(request.params.id);
    windows?.delete(request.params.windowId);
    if (windows?.size === 0) seen.delete(request.params.id);
    response.status(204).end();
  });

  return router;
}

function othersThan(windowId: string, windows: Map<string, number>): number {
  for (const [id, at] of windows) if (Date.now() - at > FORGOTTEN_AFTER_MS) windows.delete(id);
  return windows.size - (windows.has(windowId) ? 1 : 0);
}
