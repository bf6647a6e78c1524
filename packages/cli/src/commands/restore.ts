import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { InputError } from '@imprint/core/patch/inputError';
import { readArchive } from '@imprint/server/archive/readArchive';
import { withDatabase } from '../database';
import { print, printJson } from '../files';

export async function restore(file: string, { json = false }: { json?: boolean }): Promise<void> {
  const there = await stat(file).catch(() => null);
  if (!there?.isFile()) throw new InputError(`${file}: there is no such file.`);
  const counts = await withDatabase((database) => readArchive(database, createReadStream(file)));
  if (json) printJson(counts);
  else {
    const { studies, cuts, revisions, proofs } = counts;
    print(
      `Brought back ${studies} studies with ${cuts} cuts, ${revisions} states of patches and ${proofs} proofs.`,
      'What was there before can be had back for 30 days, on the page under "Trash and archive".',
    );
  }
}
