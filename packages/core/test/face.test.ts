import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

/** What other packages may take from core: `exports` of its package.json. */
const root = join(import.meta.dirname, '../../..');
const { exports: face } = JSON.parse(readFileSync(join(root, 'packages/core/package.json'), 'utf8')) as {
  exports: Record<string, string>;
};

const sources = ['web', 'server', 'cli', 'contract'].flatMap((name) =>
  readdirSync(join(root, 'packages', name, 'src'), { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.tsx?$/.test(file))
    .map((file) => readFileSync(join(root, 'packages', name, 'src', file), 'utf8')),
);

it('the public face of core has nothing in it that no other package takes', () => {
  const taken = new Set(
    sources.flatMap((text) => [...text.matchAll(/'@imprint\/core\/([^']+)'/g)].map(([, path]) => path)),
  );
  expect(Object.keys(face).filter((path) => !taken.has(path.slice('./'.length)))).toEqual([]);
});
