import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { join } from 'node:path';
import { SetupError } from './packages.mjs';

/** Starts the server and waits for its first line, which tells its port. `exited` resolves when it ends. */
export async function startServer(root, environment, { watch = false } = {}) {
  const server = spawn(
    process.execPath,
    [...(watch ? ['--watch'] : []), '--import', 'tsx', join(root, 'packages/server/src/main.ts')],
    { cwd: root, env: { ...process.env, ...environment }, stdio: ['ignore', 'pipe', 'inherit'], detached: true },
  );
  const exited = once(server, 'exit');
  const lines = createInterface({ input: server.stdout });
  const first = await Promise.race([once(lines, 'line'), exited.then(() => undefined)]);
  if (!first) throw new SetupError('The server stopped while starting; its message stands above.');
  const { port } = JSON.parse(first[0]);
  const stop = async () => {
    if (server.exitCode !== null || server.signalCode !== null) return;
    server.kill('SIGTERM');
    await exited;
  };
  return { port, pid: server.pid, url: `http://localhost:${port}`, stop, exited };
}
