/**
 * Measures the figures of docs/METHODS.md and prints them. Speeds are ratios against Chromium, run side by
 * side.
 */
import { effects } from './effects';
import { faults } from './faults/faults';
import { kills } from './kills';
import { judges } from './judges';
import { matching } from './matching/matching';
import { memory } from './memory';
import { notes } from './notes';
import { reading } from './reading';
import { quickMatches } from './quickMatches';
import { readingSpeed } from './readingSpeed';
import { prints } from './prints';
import { checkSeries } from './randomSeries';
import { printAgainstBrowser } from './renderAgainstBrowser';

const parts: Record<string, () => void | Promise<void>> = {
  reading: () => reading(),
  judges,
  readingSpeed,
  notes,
  match: matching,
  speed: () => printAgainstBrowser('renderGraphs.page.ts', 'renderGraphs'),
  effects: () => {
    effects();
    return printAgainstBrowser('effectGraphs.page.ts', 'renderEffectGraphs');
  },
  memory,
  patches: () => checkSeries('patches', 'randomPatches.child.ts'),
  chains: () => checkSeries('chains', 'randomChains.child.ts'),
  faults: () => faults(),
  prints,
  kills: () => kills(),
  quickMatches,
};
/** Those that take most of an hour, or need a program that runs, have to be asked for by name. */
const onRequest = ['patches', 'chains', 'faults', 'prints', 'match', 'kills', 'quickMatches'];
const wanted = process.argv.slice(2);
const unknown = wanted.filter((name) => !(name in parts));
if (unknown.length > 0) {
  console.error(`There is no bench "${unknown[0]}"; there are ${Object.keys(parts).join(', ')}.`);
  process.exit(2);
}
for (const name of wanted.length > 0 ? wanted : Object.keys(parts).filter((part) => !onRequest.includes(part)))
  await parts[name]();
