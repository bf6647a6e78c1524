import { spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** Something is missing that this script may not install; the message says what to type. */
export class SetupError extends Error {}

const isRoot = process.getuid?.() === 0;

/** Runs `npm ci` when node_modules is missing or older than the lock file. */
export function installNodePackages(root) {
  const installed = join(root, 'node_modules/.package-lock.json');
  const lock = join(root, 'package-lock.json');
  if (existsSync(installed) && statSync(installed).mtimeMs >= statSync(lock).mtimeMs) return;
  console.log('Installing the npm packages …');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (status !== 0) throw new SetupError('The npm packages could not be installed. Type: npm ci');
}

/** Installs Debian packages, as root or with a password-less sudo; otherwise says what to type. */
export function installDebianPackages(names, why) {
  const command = `apt-get install -y --no-install-recommends ${names.join(' ')}`;
  const sudo = isRoot ? [] : ['sudo', '-n'];
  const run = (words) =>
    spawnSync([...sudo, ...words][0], [...sudo, ...words].slice(1), {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  console.log(`Installing ${names.join(', ')} (${why}) …`);
  const installed = [['apt-get', 'update'], command.split(' ')].every((words) => run(words).status === 0);
  if (!installed) {
    throw new SetupError(
      `${why[0].toUpperCase()}${why.slice(1)} is missing and could not be installed from here. Type:\n  sudo apt-get update && sudo ${command}`,
    );
  }
}
