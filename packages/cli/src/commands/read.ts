import { readPiece } from '@imprint/core/reading/piece/piece';
import { readTone } from '@imprint/core/reading/read';
import { printJson, print, readWithWhole } from '../files';
import { readingLines } from '../readingLines';

export async function read(file: string, options: { from?: number; to?: number; json?: boolean }): Promise<void> {
  const { audio, whole } = await readWithWhole(file, options);
  // A short span has no tempo of its own, but the file that it is of may have one.
  const reading = readTone(audio, undefined, { piece: readPiece(whole) });
  if (options.json) printJson(reading);
  else print(...readingLines(reading));
}
