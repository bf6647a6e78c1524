import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildSync } from 'esbuild';

/** Prints what the engine allocates while it plays, as one file, which is how the page has it. */
export function memory(): void {
  const folder = mkdtempSync(join(tmpdir(), 'imprint-memory-'));
  const outfile = join(folder, 'memory.mjs');
  const entry = fileURLToPath(new URL('./memory.child.ts', import.meta.url));
  buildSync({ entryPoints: [entry], bundle: true, platform: 'node', format: 'esm', outfile });
  execFileSync(process.execPath, ['--expose-gc', '--max-semi-space-size=512', outfile], { stdio: 'inherit' });
  rmSync(folder, { recursive: true });
}
