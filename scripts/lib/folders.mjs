import { mkdirSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { SetupError } from './packages.mjs';

/**
 * Makes a folder and those that it lies in, where they are missing. Not by Node's own option for that, which
 * tries for ever in places where nothing can be made, such as /proc.
 */
export function makeFolder(folder, mode = 0o755) {
  try {
    makeOne(folder, mode);
  } catch (error) {
    throw new SetupError(
      `The folder ${folder} cannot be made or written to (${error.code}). Make it writable, or name another one with IMPRINT_DATA=/some/folder.`,
    );
  }
}

function makeOne(folder, mode, tried = false) {
  try {
    mkdirSync(folder, { mode });
  } catch (error) {
    if (error.code === 'EEXIST' && statSync(folder).isDirectory()) return;
    if (error.code !== 'ENOENT' || tried || dirname(folder) === folder) throw error;
    makeOne(dirname(folder), 0o755);
    makeOne(folder, mode, true);
  }
}
