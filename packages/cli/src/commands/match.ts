import { join } from 'node:path';
import { writeRecipe } from '@imprint/core/formats/recipe';
import { writeWav } from '@imprint/core/formats/wav';
import { firstPatch } from '@imprint/core/matching/firstPatch';
import { printProof } from '@imprint/core/matching/proof';
import { InputError } from '@imprint/core/patch/inputError';
import { printJson, print, readSound, writeFile } from '../files';
import { ledgerLines } from './compare';

interface MatchOptions {
  from?: number;
  to?: number;
  budget?: number;
  out: string;
  seed: number;
  json?: boolean;
}

export async function match(file: string, options: MatchOptions): Promise<void> {
  const { budget, out } = options;
  if (budget !== undefined && !(budget > 0))
    throw new InputError(`--budget ${budget}: a time over 0 seconds is expected.`);
  const started = performance.now();
  const audio = await readSound(file, options);
  const { patch, notes, reading } = firstPatch(audio, 'First patch');
  const proof = printProof(patch, notes, { audio, reading });
  const seconds = (performance.now() - started) / 1000;
  const report = {
    ...proof.comparison,
    seconds: Math.round(seconds * 1000) / 1000,
    renders: 2,
    stages: [{ stage: 'first patch', overallJnd: proof.comparison.overallJnd }],
  };
  writeFile(join(out, 'patch.json'), `${JSON.stringify(patch, null, 1)}\n`);
  writeFile(join(out, 'proof.wav'), writeWav(proof.audio, 'float32'));
  writeFile(join(out, 'recipe.md'), writeRecipe(patch, notes));
  writeFile(join(out, 'report.json'), `${JSON.stringify(report, null, 1)}\n`);
  if (options.json) printJson(report);
  else
    print(
      ...ledgerLines(proof.comparison),
      '',
      `patch.json, proof.wav, recipe.md and report.json are in ${out} (${seconds.toFixed(1)} s)`,
    );
}
