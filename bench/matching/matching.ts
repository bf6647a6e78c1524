/**
 * How near rebuilt tones come, and whether what they are made of is in the patch. Every distance is divided
 * by that of a plain saw with the tone's own level contour.
 */
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { decodeAudio } from '@imprint/core/formats/decode';
import { gatherEvidence } from '../../packages/core/src/matching/evidence';
import { explainLevel } from '../../packages/core/src/matching/explain/level';
import { type Candidate, matchTone } from '@imprint/core/matching/match';
import { createJudge } from '../../packages/core/src/matching/search/judge';
import { emptyPatch } from '@imprint/core/patch/defaults';
import type { Patch } from '@imprint/core/patch/schema';
import { type Audio, sliceAudio } from '@imprint/core/reading/audio';
import { soundOf } from '../../packages/core/test/made/evidence';
import { madeTones } from '../../packages/core/test/made/tones';
import type { TrueSetting } from '../../packages/core/test/made/trueSettings';
import { playBank, programs } from '../../packages/core/test/soundBank';
import { searchedAtRandom } from './atRandom';
import { memoryOfRuns } from './memoryOfRuns';
import { surroundedTones } from './surrounded';

/** Nothing was tuned on these numbers. */
const SEED = Number(process.env.MADE_SEED ?? 31);
const RENDERS = Number(process.env.RENDERS ?? 900);

interface Row {
  name: string;
  saw: number;
  plain: number;
  copy: number;
  recommended: number;
  settings: number;
  settled: Settled[];
  seconds: number;
}

/** A number of the making, and whether it is in the patch. */
interface Settled {
  setting: TrueSetting;
  found: number | null;
  isRight: boolean;
}

async function rebuild(name: string, audio: Audio, wanted: readonly TrueSetting[]): Promise<Row> {
  const started = performance.now();
  const { candidates, notes, reading } = await matchTone(audio, { renders: RENDERS });
  const seconds = (performance.now() - started) / 1000;
  const of = (kind: Candidate['kind']) => candidates.find((candidate) => candidate.kind === kind)!;
  const plain = of('plain');
  const row = {
    name,
    saw: await createJudge([{ audio, reading, notes, seed: 1 }], 'full').distance(sawOf(audio)),
    plain: plain.overallJnd,
    copy: of('copy').overallJnd,
    recommended: candidates[0].overallJnd,
    settings: plain.settings,
    settled: wanted.map((setting) => {
      const found = setting.found(plain.patch.layers[0]);
      return { setting, found, isRight: found !== null && setting.isRight(found) };
    }),
    seconds,
  };
  const ratio = (x: number) => `${x.toFixed(2).padStart(6)} (${(x / row.saw).toFixed(2)})`;
  console.log(
    `${name.padEnd(46)} saw ${row.saw.toFixed(1).padStart(5)}  plain ${ratio(row.plain)}  copy ${ratio(row.copy)}  recommended ${candidates[0].kind.padEnd(5)} ${ratio(row.recommended)}  ${String(row.settings).padStart(3)} settings  ${seconds.toFixed(1)} s`,
  );
  for (const { setting, found, isRight } of row.settled)
    if (!isRight)
      console.log(`    ${setting.name}: ${setting.wanted.toPrecision(3)} is ${found?.toPrecision(3) ?? 'missing'}`);
  return row;
}

/** A saw behind nothing, with the level contour of the tone. */
function sawOf(audio: Audio): Patch {
  const patch = emptyPatch();
  for (const { apply } of explainLevel(gatherEvidence(audio))) apply(patch.layers[0], patch);
  return patch;
}

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

function summary(title: string, rows: readonly Row[]): void {
  const plain = rows.map((row) => row.plain / row.saw);
  const recommended = rows.map((row) => row.recommended / row.saw);
  const worse = rows.filter((row) => row.plain > row.copy + 1.5).length;
  console.log(
    `${title}: plain median ${median(plain).toFixed(2)}, worst ${Math.max(...plain).toFixed(2)}; recommended median ${median(recommended).toFixed(2)}, worst ${Math.max(...recommended).toFixed(2)}; over 1.5 JND worse than the copy: ${worse} of ${rows.length}; longest ${Math.max(...rows.map(({ seconds }) => seconds)).toFixed(1)} s`,
  );
}

/** By kind and in all, how many of the true settings are in the patches. */
function settingsFound(rows: readonly Row[]): void {
  const all = rows.flatMap(({ settled }) => settled);
  const count = (of: readonly Settled[]) => `${of.filter(({ isRight }) => isRight).length} of ${of.length}`;
  console.log(`  in all     ${count(all)}`);
  for (const kind of new Set(all.map(({ setting }) => setting.kind))) {
    const own = all.filter(({ setting }) => setting.kind === kind);
    console.log(`  ${kind.padEnd(10)} ${count(own)}`);
  }
}

/** Of the bank's basses, leads, pads and plucks. */
const BANK_TONES = 12;

type Cut = [string, Audio, readonly TrueSetting[]];

async function rebuildAll(tones: Iterable<Cut>): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [name, audio, wanted] of tones) {
    try {
      rows.push(await rebuild(name, audio, wanted));
    } catch (error) {
      console.log(`${name.padEnd(46)} ${(error as Error).message}`);
    }
  }
  return rows;
}

export async function matching(): Promise<void> {
  const made = madeTones(SEED).map(({ name, channels, settings = [] }): Cut => [name, soundOf(...channels), settings]);
  const rows = await rebuildAll(made);
  summary(`tones by formula, seed ${SEED}`, rows);
  settingsFound(rows);
  const step = programs.length / BANK_TONES;
  const chosen = Array.from({ length: BANK_TONES }, (_, i) => programs[Math.floor(i * step)]);
  const bank = chosen.map((program): Cut => {
    const note = { midi: program.lowMidi + 7, onsetSeconds: 0.1, durationSeconds: 1, velocity: 0.8 };
    return [program.name, playBank(program, [note]), []];
  });
  summary('tones of the bank', await rebuildAll(bank));
  const cues: Cut[] = [];
  for (const id of ['lantern-stairs', 'gull-over-rail', 'harbour-fog', 'clockwork-tide']) {
    const path = fileURLToPath(new URL(`../../demo/audio/${id}`, import.meta.url));
    const { exposed } = JSON.parse(readFileSync(`${path}.settings.json`, 'utf8')) as {
      exposed: { fromSeconds: number; toSeconds: number };
    };
    const audio = await decodeAudio(new Uint8Array(readFileSync(`${path}.flac`)));
    cues.push([id, sliceAudio(audio, exposed.fromSeconds, exposed.toSeconds), []]);
  }
  summary('cues of the demo', await rebuildAll(cues));
  await surroundedTones(SEED);
  await searchedAtRandom(SEED);
  await memoryOfRuns(SEED);
}
