import { createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { InputError } from '@imprint/core/patch/inputError';
import { writeArchive } from '@imprint/server/archive/writeArchive';
import { withDatabase } from '../database';
import { print, printJson } from '../files';

export async function backup(file: string, { json = false }: { json?: boolean }): Promise<void> {
  // Under another name until it is whole: an archive that was cut off never stands where one is expected.
  const part = `${file}.part`;
  const output = createWriteStream(part, { mode: 0o600 });
  await new Promise((resolve, reject) => {
    output.once('open', resolve);
    output.once('error', reject);
  }).catch((error: NodeJS.ErrnoException) => {
    throw new InputError(`${file} cannot be written: ${error.code}.`);
  });
  try {
    await withDatabase((database) => writeArchive(database, output));
    await rename(part, file);
  } catch (error) {
    await rm(part, { force: true });
    if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
    throw new InputError(`${file} cannot be written: the disk is full. Nothing was left there.`);
  }
  const { size } = await stat(file);
  if (json) printJson({ file, bytes: size });
  else print(`${file}: everything in the database, ${(size / 1e6).toFixed(1)} MB. \`restore\` brings it back.`);
}
