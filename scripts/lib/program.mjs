import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { SetupError } from './packages.mjs';

/**
 * Starts a program of ours and waits for its first line of JSON, whose fields come back. `exited` resolves
 * when it ends.
 *
 * @param {string} name how people are told of it
 * @param {string[]} words options of Node.js, the file and what follows it
 * @param {{ endsWithUs?: boolean }} options whether it is told, by its channel, when this process is gone
 */
export async function startProgram(name, words, root, environment, { endsWithUs = false } = {}) {
  const program = spawn(process.execPath, ['--enable-source-maps', ...words], {
    cwd: root,
    env: { ...process.env, ...environment },
    stdio: ['ignore', 'pipe', 'inherit', ...(endsWithUs ? ['ipc'] : [])],
    detached: true,
  });
  const exited = once(program, 'exit');
  const lines = createInterface({ input: program.stdout });
  const first = await Promise.race([once(lines, 'line'), exited.then(() => undefined)]);
  if (!first) throw new SetupError(`The ${name} stopped while starting; its message stands above.`);
  const stop = async () => {
    if (program.exitCode !== null || program.signalCode !== null) return;
    program.kill('SIGTERM');
    await exited;
  };
  const told = parsed(first[0]);
  if (!told) {
    await stop();
    throw new SetupError(`The ${name} said something else than expected while starting: ${first[0]}`);
  }
  return { ...told, pid: program.pid, stop, exited };
}

function parsed(line) {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}
