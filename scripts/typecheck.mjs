#!/usr/bin/env node
/** Checks the types of every part with the settings of its own: core without DOM and Node, the worklet with its scope. */
import { spawnSync } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const parts = [
  'packages/core',
  'packages/contract',
  'packages/server',
  'packages/cli',
  'packages/web',
  'packages/web/src/audio/worklet',
  'tsconfig.json',
];
const results = parts.map((part) => {
  const { status } = spawnSync(process.execPath, [join(root, 'node_modules/typescript/bin/tsc'), '-p', part], {
    cwd: root,
    stdio: 'inherit',
  });
  return status === 0;
});
process.exit(results.every(Boolean) ? 0 : 1);
