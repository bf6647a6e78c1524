import { spawn } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** Something is missing that this script may not install; the message says what to type. */
export class SetupError extends Error {}

const isRoot = process.getuid?.() === 0;

/** Runs `npm ci` when node_modules is missing or older than the lock file. */
export async function installNodePackages(root) {
  const installed = join(root, 'node_modules/.package-lock.json');
  const lock = join(root, 'package-lock.json');
  if (existsSync(installed) && statSync(installed).mtimeMs >= statSync(lock).mtimeMs) return;
  console.log('Installing the npm packages …');
  const isInstalled = await run(['npm', 'ci', '--no-audit', '--no-fund'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (!isInstalled) throw new SetupError('The npm packages could not be installed. Type: npm ci');
}

/** Installs Debian packages, as root or with a password-less sudo; otherwise says what to type. */
export async function installDebianPackages(names, why) {
  const command = `apt-get install -y --no-install-recommends ${names.join(' ')}`;
  const sudo = isRoot ? [] : ['sudo', '-n'];
  const options = { stdio: 'ignore', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  console.log(`Installing ${names.join(', ')} (${why}) …`);
  for (const words of [['apt-get', 'update'], command.split(' ')]) {
    if (await run([...sudo, ...words], options)) continue;
    throw new SetupError(
      `${why[0].toUpperCase()}${why.slice(1)} is missing and could not be installed from here. Type:\n  sudo apt-get update && sudo ${command}`,
    );
  }
}

/** Whether a command could be run and ended well. */
function run([program, ...words], options) {
  return new Promise((resolve) => {
    const child = spawn(program, words, options);
    child.on('error', () => resolve(false));
    child.on('close', (status) => resolve(status === 0));
  });
}
