import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { SetupError } from './packages.mjs';

/**
 * Builds the page when there is no build, or when a source is newer than it. Returns the folder of the build.
 */
export function buildWeb(root) {
  const built = join(root, 'packages/web/dist/index.html');
  const sources = [
    'packages/web/src',
    'packages/web/index.html',
    'packages/web/vite.config.ts',
    'packages/core/src',
    'packages/contract/src',
    'package-lock.json',
  ];
  const newest = Math.max(...sources.map((source) => newestTime(join(root, source))));
  if (!existsSync(built) || statSync(built).mtimeMs < newest) {
    console.log('Building the page …');
    const { status, stdout, stderr } = spawnSync(
      process.execPath,
      [join(root, 'node_modules/vite/bin/vite.js'), 'build'],
      {
        cwd: join(root, 'packages/web'),
        encoding: 'utf8',
      },
    );
    if (status !== 0) throw new SetupError(`The page could not be built:\n${stdout}${stderr}`);
  }
  return join(root, 'packages/web/dist');
}

function newestTime(path) {
  const stats = statSync(path);
  if (!stats.isDirectory()) return stats.mtimeMs;
  return Math.max(stats.mtimeMs, ...readdirSync(path).map((name) => newestTime(join(path, name))));
}
