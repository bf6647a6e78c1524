/**
 * Measures the figures of docs/METHODS.md and prints them. Speeds are ratios against Chromium, run side by
 * side.
 */
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { decodeAudio } from '@imprint/core/formats/decode';
import { firstPatch } from '@imprint/core/matching/firstPatch';
import { printProof } from '@imprint/core/matching/proof';
import { sliceAudio } from '@imprint/core/reading/audio';
import { effects } from './effects';
import { faults } from './faults/faults';
import { judges } from './judges';
import { memory } from './memory';
import { notes } from './notes';
import { reading } from './reading';
import { readingSpeed } from './readingSpeed';
import { prints } from './prints';
import { checkSeries } from './randomSeries';
import { printAgainstBrowser } from './renderAgainstBrowser';

async function cues(): Promise<void> {
  for (const id of ['lantern-stairs', 'gull-over-rail', 'harbour-fog', 'clockwork-tide']) {
    const path = fileURLToPath(new URL(`../demo/audio/${id}`, import.meta.url));
    const { exposed } = JSON.parse(readFileSync(`${path}.settings.json`, 'utf8')) as {
      exposed: { fromSeconds: number; toSeconds: number };
    };
    const audio = await decodeAudio(new Uint8Array(readFileSync(`${path}.flac`)));
    const cut = sliceAudio(audio, exposed.fromSeconds, exposed.toSeconds);
    const start = performance.now();
    const { patch, notes, reading } = firstPatch(cut, id);
    const seconds = (performance.now() - start) / 1000;
    const { overallJnd } = printProof(patch, notes, { audio: cut, reading }).comparison;
    console.log(
      `first patch of ${id.padEnd(15)}: ${overallJnd.toFixed(2)} JND overall, made in ${seconds.toFixed(1)} s`,
    );
  }
}

const parts: Record<string, () => void | Promise<void>> = {
  reading: () => reading(),
  judges,
  readingSpeed,
  notes,
  cues,
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
};
/** Those that take most of an hour have to be asked for by name. */
const onRequest = ['patches', 'chains', 'faults', 'prints'];
const wanted = process.argv.slice(2);
const unknown = wanted.filter((name) => !(name in parts));
if (unknown.length > 0) {
  console.error(`There is no bench "${unknown[0]}"; there are ${Object.keys(parts).join(', ')}.`);
  process.exit(2);
}
for (const name of wanted.length > 0 ? wanted : Object.keys(parts).filter((part) => !onRequest.includes(part)))
  await parts[name]();
