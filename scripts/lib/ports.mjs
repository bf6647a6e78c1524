import { createServer } from 'node:net';
import { SetupError } from './packages.mjs';

const LAST_PORT = 65535;

/** A port from words such as those of the environment. */
export function portOf(text, name) {
  const port = Number(text);
  if (/^\d+$/.test(text) && port >= 1 && port <= LAST_PORT) return port;
  throw new SetupError(`${name}=${text} is no port; a whole number from 1 to ${LAST_PORT} is.`);
}

/** The first port from `first` on that nobody listens on. */
export async function freePort(first) {
  const end = Math.min(first + 200, LAST_PORT + 1);
  for (let port = first; port < end; port++) if (await isFree(port)) return port;
  throw new SetupError(`No free port between ${first} and ${end - 1}.`);
}

function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}
