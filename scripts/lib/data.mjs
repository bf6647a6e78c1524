import { chmodSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Where a clone keeps its database. */
export const dataFolder = (root) => process.env.IMPRINT_DATA ?? join(root, 'data');

/** Held by who runs that database. */
export const lockFile = (data) => join(data, 'running.json');

/**
 * Writes down the address of the database that runs, with its password, for commands of the same user and
 * nobody else.
 */
export function writeAddress(data, databaseUrl) {
  const file = join(data, 'database-address');
  const part = `${file}.part`;
  rmSync(part, { force: true });
  writeFileSync(part, databaseUrl, { mode: 0o600, flag: 'wx' });
  chmodSync(part, 0o600);
  renameSync(part, file);
  return file;
}
