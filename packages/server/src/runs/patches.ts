import type { Transaction } from 'sequelize';
import { base64FromBytes, bytesFromBase64 } from '@imprint/core/patch/contents/base64';
import { type PackedPatch, base64sOf, contentsOf, packPatch, unpackPatch } from '@imprint/core/patch/contents/packing';
import type { Patch } from '@imprint/core/patch/schema';
import { referTo } from '../api/revisions';
import { bytesOf, contentOfBytes, keepBlob } from '../blobs';
import type { Database } from '../database';

/** Packs a patch that a run has made, and keeps its tables and samples as long as the run. */
export async function packOfRun(
  database: Database,
  runId: string,
  patch: Patch,
  transaction: Transaction,
): Promise<PackedPatch> {
  const contents = new Map(
    base64sOf(patch).map((base64) => {
      const bytes = bytesFromBase64(base64);
      return [base64, { bytes, content: contentOfBytes(bytes) }];
    }),
  );
  for (const { bytes, content } of contents.values()) await keepBlob(database, content, [bytes], transaction);
  const packed = packPatch(patch, (base64) => contents.get(base64)!.content);
  await referTo(database, 'run', runId, packed, transaction);
  return packed;
}

/** A patch with its tables and samples in it. */
export async function unpackFrom(database: Database, packed: PackedPatch): Promise<Patch> {
  const found = new Map<string, string>();
  for (const { sha256 } of contentsOf(packed)) {
    const blob = await database.Blob.findOne({ where: { sha256 } });
    if (!blob) throw new Error(`The bytes ${sha256} of a patch are missing.`);
    found.set(sha256, base64FromBytes(await bytesOf(database, blob)));
  }
  return unpackPatch(packed, (sha256) => found.get(sha256)!);
}
