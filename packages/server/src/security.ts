import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { ApiError } from './errors';

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * The server is for this machine only. A page elsewhere that gets a browser here to ask (by a rebound name or
 * a cross-site request) shows itself in the Host or Origin header.
 */
export const onlyLoopback: RequestHandler = (request, _response, next) => {
  const { host, origin } = request.headers;
  if (!isLoopback(`http://${host}`)) throw new ApiError('forbidden', 'Imprint answers on localhost only.');
  if (origin !== undefined && (!isLoopback(origin) || new URL(origin).host !== host)) {
    throw new ApiError('forbidden', 'Requests from other pages are not answered.');
  }
  next();
};

function isLoopback(url: string): boolean {
  return URL.canParse(url) && LOOPBACK.has(new URL(url).hostname);
}

/**
 * Everything comes from this server. WebAssembly is needed by the audio decoders; the isolation headers,
 * which helmet sets half of, let threads share the samples of a long reference.
 */
export const securityHeaders = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'none'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      workerSrc: ["'self'"],
      styleSrc: ["'self'", "'unsafe-inline'"],
      fontSrc: ["'self'"],
      imgSrc: ["'self'", 'data:'],
      mediaSrc: ["'self'"],
      connectSrc: ["'self'"],
      formAction: ["'none'"],
      frameAncestors: ["'none'"],
      baseUri: ["'none'"],
    },
  },
  crossOriginEmbedderPolicy: { policy: 'require-corp' },
  crossOriginOpenerPolicy: { policy: 'same-origin' },
  strictTransportSecurity: false,
});
