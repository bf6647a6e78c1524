#!/usr/bin/env node
/**
 * Checks the types of every part with the settings of its own: core without DOM and Node, the worklet with
 * its scope.
 */
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { runAll } from './lib/pool.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const parts = [
  'tsconfig.json',
  'packages/web',
  'packages/core',
  'packages/server',
  'packages/contract',
  'packages/cli',
  'packages/web/src/audio/worklet',
];
const tsc = join(root, 'node_modules/typescript-native/bin/tsc');
const results = await runAll(
  parts.map((part) => ({ words: [tsc, '-p', part] })),
  root,
);
for (const { output } of results) process.stdout.write(output);
process.exit(results.every(({ status }) => status === 0) ? 0 : 1);
