import { type Server, createServer } from 'node:http';
import type { Express, RequestHandler } from 'express';

/** Time for the headers, and for a body of no size; a body has more by what of it has come. */
const PATIENCE_MS = 15_000;
/** Slower than any disk of this machine by far. */
const BYTES_PER_MS = 50;
const LOOKS = 15;
/**
 * Longer than clients keep connections that nothing is asked on: one that is closed as it is asked on again
 * looks to them like a server that went away (common practice).
 */
const KEPT_OPEN_MS = 65_000;

/** A server that ends connections whose headers do not come in time. */
export function createPatientServer(app: Express, patienceMs = PATIENCE_MS): Server {
  return createServer(
    {
      headersTimeout: patienceMs,
      keepAliveTimeout: KEPT_OPEN_MS,
      // Of the whole request: its body is watched by how much of it comes.
      requestTimeout: 0,
      connectionsCheckingInterval: patienceMs / LOOKS,
    },
    app,
  );
}

/** Ends requests whose bodies come more slowly than anything on this machine sends. */
export function closeSlowBodies(patienceMs = PATIENCE_MS): RequestHandler {
  return (request, response, next) => {
    const started = Date.now();
    const before = request.socket.bytesRead;
    const timer = setInterval(() => {
      if (request.complete || response.writableEnded) {
        clearInterval(timer);
        return;
      }
      const received = request.socket.bytesRead - before;
      // A body that waits because it is not read yet is not slow.
      if (request.isPaused() || Date.now() - started < patienceMs + received / BYTES_PER_MS) return;
      clearInterval(timer);
      response.once('finish', () => request.socket.destroy());
      if (response.headersSent) request.socket.destroy();
      else {
        const message = 'The request came too slowly and was ended. Nothing was changed.';
        response
          .status(408)
          .set('Connection', 'close')
          .json({ error: { code: 'tooSlow', message } });
      }
    }, patienceMs / LOOKS);
    timer.unref();
    response.once('close', () => clearInterval(timer));
    next();
  };
}
