import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Programs and threads of the server, by the names that it starts them under. */
const ENTRIES = {
  main: 'main.ts',
  worker: 'worker.ts',
  'inspect.process': 'import/inspectProcess.ts',
  'helper.thread': 'threads/helper.ts',
  'matcher.thread': 'threads/matcherThread.ts',
};

/** Packages of ours go into the bundle, libraries stay outside. */
const OURS = { '@imprint/core': './packages/core/src', '@imprint/contract': './packages/contract/src' };

/**
 * Bundles the server and what it starts, which then begin in half of the time that reading the sources takes.
 * All lie in one folder, so that they find one another. Returns the folder.
 */
export async function buildServer(root) {
  // Not there yet when a fresh clone reads this file.
  const { buildSync } = await import('esbuild');
  const home = join(root, 'packages/server');
  const folder = join(home, 'dist');
  const { outputFiles } = buildSync({
    absWorkingDir: root,
    entryPoints: Object.entries(ENTRIES).map(([out, file]) => ({ out, in: join(home, 'src', file) })),
    bundle: true,
    splitting: true,
    sourcemap: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    alias: OURS,
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    write: false,
  });
  mkdirSync(folder, { recursive: true });
  for (const { path, contents } of outputFiles) place(path, contents);
  return folder;
}

/** Whole or not at all: another server may be starting from this folder. */
function place(path, contents) {
  if (existsSync(path) && readFileSync(path).equals(contents)) return;
  const fresh = `${path}.${process.pid}`;
  writeFileSync(fresh, contents);
  renameSync(fresh, path);
}
