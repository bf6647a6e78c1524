import { readPiece } from '@imprint/core/reading/piece/piece';
import { readTone } from '@imprint/core/reading/read';
import { printJson, print, readWithWhole } from '../files';
import { kept } from '../keep';
import { readingLines } from '../readingLines';

interface ReadWords {
  from?: number;
  to?: number;
  keep?: string;
  json?: boolean;
}

export async function read(file: string, options: ReadWords): Promise<void> {
  const { audio, whole } = await readWithWhole(file, options);
  // A short span has no tempo of its own, but the file that it is of may have one.
  const reading = readTone(kept(audio, options.keep).audio, undefined, { piece: readPiece(whole) });
  if (options.json) printJson(reading);
  else print(...readingLines(reading));
}
