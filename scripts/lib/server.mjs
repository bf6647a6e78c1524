import { join } from 'node:path';
import { startProgram } from './program.mjs';

/** Starts the server and waits for its first line, which tells its port. `exited` resolves when it ends. */
export async function startServer(root, environment, { watch = false } = {}) {
  const words = [...(watch ? ['--watch'] : []), join(root, 'packages/server/src/main.ts')];
  const server = await startProgram('server', words, root, environment);
  return { ...server, url: `http://localhost:${server.port}` };
}
