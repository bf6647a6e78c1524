import { join } from 'node:path';
import { writeRecipe } from '@imprint/core/formats/recipe';
import { writeWav } from '@imprint/core/formats/wav';
import { type Stage, stages } from '@imprint/core/matching/explain/hypothesis';
import { type Candidate, matchTone } from '@imprint/core/matching/match';
import { type Structure, structures } from '@imprint/core/matching/structure';
import { printProof } from '@imprint/core/matching/proof';
import { InputError } from '@imprint/core/patch/inputError';
import { parsePatch } from '@imprint/core/patch/parse';
import { readPiece } from '@imprint/core/reading/piece/piece';
import { startHelpers } from '@imprint/server/threads/helpers';
import { print, printJson, readJson, readWithWhole, writeFile } from '../files';
import { kept } from '../keep';
import { ledgerLines } from './compare';

/** What a person waits for without asking, and what is enough. */
const USUAL_SECONDS = 20;
const USUAL_RENDERS = 800;

export interface MatchWords {
  from?: number;
  to?: number;
  cut: string[];
  budget?: number;
  renders?: number;
  seed: number;
  fromPatch?: string;
  lock: string[];
  only: string[];
  structure: string;
  keep?: string;
  out: string;
  json?: boolean;
}

export async function match(file: string, words: MatchWords): Promise<void> {
  const { budget, renders, out, seed } = words;
  if (budget !== undefined && !(budget > 0))
    throw new InputError(`--budget ${budget}: a time over 0 seconds is expected.`);
  if (renders !== undefined && !(renders >= 1))
    throw new InputError(`--renders ${renders}: at least one render is expected.`);
  const structure = oneOf<Structure>('--structure', words.structure, structures);
  const only = words.only.map((stage) => oneOf<Stage>('--only', stage, stages));
  const fromPatch = words.fromPatch === undefined ? undefined : parsePatch(readJson(words.fromPatch));
  const started = performance.now();
  const { helpers, end } = startHelpers();
  const spans = words.cut.length > 0 ? words.cut.map(spanOf) : [{ from: words.from, to: words.to }];
  const read = await Promise.all(spans.map((span) => readWithWhole(file, span)));
  const [{ audio, surroundings }, ...others] = read.map((sound) => kept(sound.audio, words.keep));
  const matched = await matchTone(audio, {
    surroundings,
    others,
    helpers,
    structure,
    // Where nothing is said, a search is not to be waited for.
    ...(budget === undefined && renders === undefined
      ? { renders: USUAL_RENDERS, budgetSeconds: USUAL_SECONDS }
      : { renders, budgetSeconds: budget }),
    seed,
    locks: words.lock,
    ...(only.length > 0 ? { only } : {}),
    fromPatch,
    context: { piece: readPiece(read[0].whole) },
  });
  await end();
  const { notes, reading } = matched;
  const written = matched.candidates.map((candidate, i) => {
    const proof = printProof(candidate.patch, notes, { audio, surroundings, reading });
    const files = {
      'patch.json': `${JSON.stringify(candidate.patch, null, 1)}\n`,
      'proof.wav': writeWav(proof.audio, 'float32'),
      'recipe.md': withReasons(writeRecipe(candidate.patch, notes), candidate),
    };
    const folder = join('candidates', candidate.kind);
    for (const [name, content] of Object.entries(files)) {
      writeFile(join(out, folder, name), content);
      if (i === 0) writeFile(join(out, name), content);
    }
    return { candidate, folder, comparison: proof.comparison };
  });
  const [{ comparison }] = written;
  const seconds = Math.round(performance.now() - started) / 1000;
  const report = {
    ...comparison,
    seconds,
    renders: matched.renders,
    stages: matched.stages,
    recommended: written[0].candidate.name,
    recommendation: matched.recommendation,
    candidates: written.map(({ candidate: { name, kind, settings, why }, folder, comparison: own }) => ({
      name,
      kind,
      patch: join(folder, 'patch.json'),
      proof: join(folder, 'proof.wav'),
      recipe: join(folder, 'recipe.md'),
      overallJnd: own.overallJnd,
      listeningDb: own.listeningDb,
      settings,
      why,
    })),
  };
  writeFile(join(out, 'report.json'), `${JSON.stringify(report, null, 1)}\n`);
  if (words.json) printJson(report);
  else
    print(
      ...report.candidates.map(
        ({ name, overallJnd, settings }) => `${name.padEnd(14)} ${overallJnd.toFixed(2)} JND, ${settings} settings`,
      ),
      ...(matched.recommendation ? [matched.recommendation] : []),
      '',
      ...written[0].candidate.why,
      '',
      ...ledgerLines(comparison),
      '',
      `patch.json, proof.wav, recipe.md, report.json and candidates/ are in ${out} (${seconds.toFixed(1)} s)`,
    );
}

function oneOf<T extends string>(option: string, text: string, allowed: readonly T[]): T {
  const found = allowed.find((value) => value === text);
  if (!found) throw new InputError(`${option} ${text}: one of ${allowed.join(', ')} is expected.`);
  return found;
}

function spanOf(text: string): { from: number; to: number } {
  const found = /^(\d+(?:\.\d+)?)-(\d+(?:\.\d+)?)$/.exec(text);
  if (!found) throw new InputError(`--cut ${text}: two times in seconds are expected, such as 1.5-3.2.`);
  return { from: Number(found[1]), to: Number(found[2]) };
}

/** The recipe, with the evidence for what is in it. */
const withReasons = (recipe: string, { why }: Candidate): string =>
  why.length === 0 ? recipe : `${recipe}\n## Why\n\n${why.map((reason) => `- ${reason}.`).join('\n')}\n`;
