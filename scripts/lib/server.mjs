import { join } from 'node:path';
import { startProgram } from './program.mjs';
import { buildServer } from './serverBuild.mjs';

/**
 * Starts the server and waits for its first line, which tells its port. `exited` resolves when it ends. Where
 * it is to `watch`, it runs from its sources and starts again when one changes.
 */
export async function startServer(root, environment, { watch = false } = {}) {
  const words = watch
    ? ['--import', 'tsx', '--watch', join(root, 'packages/server/src/main.ts')]
    : [join(await buildServer(root), 'main.mjs')];
  const server = await startProgram('server', words, root, environment);
  return { ...server, url: `http://localhost:${server.port}` };
}
