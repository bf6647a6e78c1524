import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { join } from 'node:path';
import { SetupError } from './packages.mjs';

/** Starts the server and waits for its first line, which tells its port. */
export async function startServer(root, environment, { watch = false } = {}) {
  const server = spawn(
    process.execPath,
    [...(watch ? ['--watch'] : []), '--import', 'tsx', join(root, 'packages/server/src/main.ts')],
    { cwd: root, env: { ...process.env, ...environment }, stdio: ['ignore', 'pipe', 'inherit'], detached: true },
  );
  const lines = createInterface({ input: server.stdout });
  const first = await Promise.race([once(lines, 'line'), once(server, 'exit').then(() => undefined)]);
  if (!first) throw new SetupError('The server stopped while starting; its message stands above.');
  const { port } = JSON.parse(first[0]);
  const stop = async () => {
    if (server.exitCode !== null || server.signalCode !== null) return;
    const gone = once(server, 'exit');
    server.kill('SIGTERM');
    await gone;
  };
  return { port, pid: server.pid, url: `http://localhost:${port}`, stop, exited: once(server, 'exit') };
}
