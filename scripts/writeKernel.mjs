#!/usr/bin/env node
/**
 * Compiles the kernel and writes it down as numbers, which any bundler and any thread can take. With
 * `--check` it only compares.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const target = join(root, 'packages/core/src/dsp/kernel/code.ts');

process.chdir(root);
const { error, stderr, binary } = await compile();
if (error) {
  console.error(stderr.toString());
  process.exit(1);
}
const text = `/** The compiled kernel, written by \`npm run kernel\` from packages/core/kernel. */
// oxfmt-ignore
export const code = [${binary.join(',').replace(/(.{1,110},)/g, '$1\n')}];
`;
if (!process.argv.includes('--check')) writeFileSync(target, text);
else if (readFileSync(target, 'utf8') !== text) {
  console.error('packages/core/src/dsp/kernel/code.ts is not what the kernel compiles to. Run: npm run kernel');
  process.exit(1);
}

async function compile() {
  const words = ['--runtime', 'stub', '--enable', 'simd', '-O3', '--noAssert', '--outFile', 'kernel.wasm'];
  let binary = new Uint8Array();
  const result = await asc.main(['packages/core/kernel/index.ts', ...words], {
    writeFile(name, contents) {
      if (name.endsWith('.wasm')) binary = contents;
    },
  });
  return { ...result, binary };
}
