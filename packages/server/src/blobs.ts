import { createHash } from 'node:crypto';
import { once } from 'node:events';
import type { Writable } from 'node:stream';
import type { Transaction } from 'sequelize';
import type { Database } from './database';
import type { BlobRow } from './models/models';

const CHUNK_BYTES = 1 << 20;

/** Keeps bytes in chunks; bytes that are there already are not kept twice. */
export async function keepBlob(database: Database, bytes: Uint8Array, transaction: Transaction): Promise<BlobRow> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const known = await database.Blob.findOne({ where: { sha256 }, transaction });
  if (known) return known;
  const blob = await database.Blob.create({ sha256, byteLength: bytes.length }, { transaction });
  for (let start = 0, index = 0; start < bytes.length; start += CHUNK_BYTES, index++) {
    const chunk = Buffer.from(bytes.buffer, bytes.byteOffset + start, Math.min(CHUNK_BYTES, bytes.length - start));
    await database.Chunk.create({ blobId: blob.id, index, bytes: chunk }, { transaction });
  }
  return blob;
}

/** Writes a blob to a stream, chunk by chunk, at the speed of its reader. */
export async function sendBlob(database: Database, blobId: string, output: Writable): Promise<void> {
  for (let index = 0; ; index++) {
    const chunk = await database.Chunk.findOne({ where: { blobId, index } });
    if (!chunk) break;
    if (!output.write(chunk.bytes)) await once(output, 'drain');
  }
  output.end();
}

/** Deletes blobs that nothing refers to any more. */
export async function sweepBlobs({ sequelize }: Database, transaction: Transaction): Promise<void> {
  await sequelize.query(
    `DELETE FROM "references" r WHERE NOT EXISTS (SELECT 1 FROM studies s WHERE s.reference_id = r.id);
     DELETE FROM blobs b WHERE NOT EXISTS (SELECT 1 FROM "references" r WHERE r.blob_id = b.id)
       AND NOT EXISTS (SELECT 1 FROM proofs p WHERE p.blob_id = b.id);`,
    { transaction },
  );
}
