import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Content } from '@imprint/core/patch/contents/packing';
import type { Database } from './database';
import { lock } from './transactions';

const CHUNK_BYTES = 1 << 20;

/** How long bytes that nothing refers to are kept: whoever sent them is about to say what for. */
const UNUSED_HOURS = 24;

/** A file's hash and length, read piece by piece. */
export async function contentOfFile(path: string): Promise<Content> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return { sha256: hash.digest('hex'), byteLength: (await stat(path)).size };
}

export const contentOfBytes = (bytes: Uint8Array): Content => ({
  sha256: createHash('sha256').update(bytes).digest('hex'),
  byteLength: bytes.length,
});

/** Keeps bytes in chunks and returns their id; bytes that are there already are not kept twice. */
export async function keepBlob(
  database: Database,
  { sha256, byteLength }: Content,
  bytes: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
  transaction: Transaction,
): Promise<string> {
  await lock(database, 'blobs', 'together', transaction);
  const { sequelize, Chunk } = database;
  // Of several who bring the same bytes at once, the later ones wait here for the first.
  const [made] = await sequelize.query<{ id: string }>(
    `INSERT INTO blobs (id, sha256, byte_length) VALUES (gen_random_uuid(), :sha256, :byteLength)
     ON CONFLICT (sha256) DO NOTHING RETURNING id`,
    { replacements: { sha256, byteLength }, type: QueryTypes.SELECT, transaction },
  );
  if (!made) return touchBlob(database, sha256, transaction);
  let index = 0;
  for await (const chunk of inChunks(bytes)) {
    await Chunk.create({ blobId: made.id, index, bytes: chunk }, { transaction });
    index++;
  }
  return made.id;
}

export const keepFile = (database: Database, path: string, content: Content, transaction: Transaction) =>
  keepBlob(database, content, createReadStream(path, { highWaterMark: CHUNK_BYTES }), transaction);

/** Marks bytes as asked for just now, so that they are not swept, and returns their id. */
async function touchBlob({ sequelize }: Database, sha256: string, transaction: Transaction): Promise<string> {
  const [row] = await sequelize.query<{ id: string }>(
    'UPDATE blobs SET needed_at = now() WHERE sha256 = :sha256 RETURNING id',
    { replacements: { sha256 }, type: QueryTypes.SELECT, transaction },
  );
  return row.id;
}

async function* inChunks(parts: AsyncIterable<Uint8Array> | Iterable<Uint8Array>): AsyncIterable<Buffer> {
  let held: Uint8Array[] = [];
  let length = 0;
  for await (const part of parts) {
    for (let at = 0; at < part.length;) {
      const piece = part.subarray(at, at + CHUNK_BYTES - length);
      held.push(piece);
      length += piece.length;
      at += piece.length;
      if (length < CHUNK_BYTES) continue;
      yield Buffer.concat(held);
      held = [];
      length = 0;
    }
  }
  if (length > 0) yield Buffer.concat(held);
}

/** The bytes of a blob in order, each chunk read when it is wanted. Throws when some are missing. */
export async function* chunksOf(
  { Chunk }: Database,
  blob: { id: string; byteLength: number | string },
  transaction?: Transaction,
): AsyncIterable<Buffer> {
  let sent = 0;
  for (let index = 0; sent < Number(blob.byteLength); index++) {
    const chunk = await Chunk.findOne({ where: { blobId: blob.id, index }, transaction });
    if (!chunk) throw new Error(`Blob ${blob.id} lacks chunk ${index}.`);
    sent += chunk.bytes.length;
    yield chunk.bytes;
  }
}

/** Writes a blob to a stream at the speed of its reader, and ends quietly when the reader goes away. */
export async function sendBlob(
  database: Database,
  blob: { id: string; byteLength: number | string },
  output: Writable,
): Promise<void> {
  try {
    await pipeline(Readable.from(chunksOf(database, blob)), output);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
  }
}

/** All bytes of a blob. For what is known to be small. */
export async function bytesOf(
  database: Database,
  blob: { id: string; byteLength: number | string },
  transaction?: Transaction,
): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of chunksOf(database, blob, transaction)) chunks.push(chunk);
  return Buffer.concat(chunks);
}

/** Deletes references without a study, and bytes that nothing has referred to for a day. */
export async function sweepBlobs(database: Database, transaction: Transaction): Promise<void> {
  await lock(database, 'blobs', 'alone', transaction);
  const unused = (column: string, table: string) =>
    `AND NOT EXISTS (SELECT 1 FROM ${table} WHERE ${table}.${column} = b.id)`;
  await database.sequelize.query(
    `DELETE FROM "references" r WHERE NOT EXISTS (SELECT 1 FROM studies s WHERE s.reference_id = r.id);
     DELETE FROM blobs b WHERE b.needed_at < now() - interval '${UNUSED_HOURS} hours'
       ${unused('blob_id', '"references"')} ${unused('blob_id', 'proofs')}
       ${unused('blob_id', 'revision_blobs')} ${unused('blob_id', 'proof_blobs')} ${unused('blob_id', 'run_blobs')};`,
    { transaction },
  );
}
