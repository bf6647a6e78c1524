import { base64FromBytes, bytesFromBase64 } from '@imprint/core/patch/contents/base64';
import {
  type Content,
  type PackedPatch,
  base64sOf,
  contentsOf,
  packPatch,
  unpackPatch,
} from '@imprint/core/patch/contents/packing';
import type { Patch } from '@imprint/core/patch/schema';
import { client } from '../api/client';

/**
 * Tables and samples of patches by the hash of their bytes. In the page they stand in the patch itself, on
 * the server once each: what is here was worked out or fetched once.
 */
const contentOfBase64 = new Map<string, Content>();
const base64OfHash = new Map<string, string>();
/** Hashes of what the server is known to have. */
const onServer = new Set<string>();
const KEPT = 64;

function remember(base64: string, content: Content): void {
  contentOfBase64.set(base64, content);
  base64OfHash.set(content.sha256, base64);
  if (contentOfBase64.size <= KEPT) return;
  const [oldest, { sha256 }] = contentOfBase64.entries().next().value!;
  contentOfBase64.delete(oldest);
  base64OfHash.delete(sha256);
}

/** Works out the hashes of all that a patch plays, and packs it. */
export async function packed(patch: Patch): Promise<PackedPatch> {
  for (const base64 of base64sOf(patch)) {
    if (contentOfBase64.has(base64)) continue;
    const bytes = bytesFromBase64(base64) as Uint8Array<ArrayBuffer>;
    const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
    const sha256 = Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
    remember(base64, { sha256, byteLength: bytes.length });
  }
  return packPatch(patch, (base64) => contentOfBase64.get(base64)!);
}

/** The same at once; undefined while hashes are missing. */
export function packedNow(patch: Patch): PackedPatch | undefined {
  if (base64sOf(patch).some((base64) => !contentOfBase64.has(base64))) return undefined;
  return packPatch(patch, (base64) => contentOfBase64.get(base64)!);
}

/** A patch as the page has it, its tables and samples fetched where they are not here. */
export async function unpacked(patch: PackedPatch): Promise<Patch> {
  const found = new Map<string, string>();
  await Promise.all(
    contentsOf(patch).map(async ({ sha256, byteLength }) => {
      const known = base64OfHash.get(sha256);
      const base64 = known ?? base64FromBytes(await client.content(sha256));
      found.set(sha256, base64);
      onServer.add(sha256);
      if (known === undefined) remember(base64, { sha256, byteLength });
    }),
  );
  return unpackPatch(patch, (sha256) => found.get(sha256)!);
}

export const allOnServer = (patch: PackedPatch) => contentsOf(patch).every(({ sha256 }) => onServer.has(sha256));

/** The bytes behind a hash, where they are here. */
export function bytesOf(sha256: string): Uint8Array<ArrayBuffer> | undefined {
  const base64 = base64OfHash.get(sha256);
  return base64 === undefined ? undefined : (bytesFromBase64(base64) as Uint8Array<ArrayBuffer>);
}

/** Puts bytes that were kept elsewhere in this browser back behind their hash. */
export function rememberBytes(sha256: string, bytes: Uint8Array): void {
  if (!base64OfHash.has(sha256)) remember(base64FromBytes(bytes), { sha256, byteLength: bytes.length });
}

/** Sends what a patch plays and the server lacks. */
export async function sendContents(patch: PackedPatch): Promise<void> {
  const wanted = contentsOf(patch)
    .map(({ sha256 }) => sha256)
    .filter((sha256) => !onServer.has(sha256));
  if (wanted.length === 0) return;
  const missing = new Set(await client.missingContents([...new Set(wanted)]));
  for (const sha256 of missing) {
    const bytes = bytesOf(sha256);
    if (!bytes) throw new Error('A sample or wavetable of the patch is no longer in this browser. Choose it again.');
    await client.keepContent(sha256, bytes);
  }
  for (const sha256 of wanted) onServer.add(sha256);
}
