import type { Transaction } from 'sequelize';
import { contentOfFile, keepFile } from '../blobs';
import type { Database } from '../database';
import type { ReferenceRow } from '../models/models';
import { inTransaction, lock } from '../transactions';
import { inspectSound } from './inspectSound';

/**
 * Makes a file a reference, and in the same transaction what is wanted of it. The same bytes give the
 * reference that is there already; of several who bring them at once, one makes it. Nothing is stored when
 * the file cannot be used; the InputError says why.
 */
export async function importReference<T>(
  database: Database,
  path: string,
  fileName: string,
  use: (reference: ReferenceRow, transaction: Transaction) => Promise<T>,
): Promise<T> {
  const { Reference } = database;
  const content = await contentOfFile(path);
  const find = (transaction?: Transaction) =>
    Reference.findOne({
      include: [{ association: 'blob', where: { sha256: content.sha256 } }],
      ...(transaction && { transaction }),
    });
  const info = (await find()) ?? (await inspectSound(path));
  const { format, durationSeconds, sampleRateHz, channels, notice } = info;
  return inTransaction(database, async (transaction) => {
    await lock(database, 'blobs', 'together', transaction);
    const blobId = await keepFile(database, path, content, transaction);
    await database.sequelize.query(
      `INSERT INTO "references" (id, blob_id, file_name, format, duration_seconds, sample_rate_hz, channels, notice)
       VALUES (gen_random_uuid(), :blobId, :fileName, :format, :durationSeconds, :sampleRateHz, :channels, :notice)
       ON CONFLICT (blob_id) DO NOTHING`,
      { replacements: { blobId, fileName, format, durationSeconds, sampleRateHz, channels, notice }, transaction },
    );
    // Those who come with the same file wait here for one another.
    const reference = await Reference.findOne({ where: { blobId }, lock: transaction.LOCK.UPDATE, transaction });
    return use(reference!, transaction);
  });
}
