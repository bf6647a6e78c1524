import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { keepBlob } from '../blobs';
import type { Database } from '../database';
import type { ReferenceRow } from '../models/models';
import { inspectSound } from './inspectSound';

/**
 * Makes a file a reference. The same bytes give the reference that is there already. Nothing is stored when the file cannot
 * be used; the InputError says why.
 */
export async function importReference(
  database: Database,
  path: string,
  fileName: string,
): Promise<{ reference: ReferenceRow; alreadyKnown: boolean }> {
  const known = await findReference(database, await sha256Of(path));
  if (known) return { reference: known, alreadyKnown: true };
  const { format, durationSeconds, sampleRateHz, channels } = await inspectSound(path);
  const bytes = await readFile(path);
  return database.sequelize.transaction(async (transaction) => {
    const blob = await keepBlob(database, bytes, transaction);
    const [reference, created] = await database.Reference.findOrCreate({
      where: { blobId: blob.id },
      defaults: { blobId: blob.id, fileName, format, durationSeconds, sampleRateHz, channels },
      transaction,
    });
    return { reference, alreadyKnown: !created };
  });
}

async function findReference({ Reference }: Database, sha256: string): Promise<ReferenceRow | null> {
  return Reference.findOne({ include: [{ association: 'blob', where: { sha256 } }] });
}

async function sha256Of(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}
