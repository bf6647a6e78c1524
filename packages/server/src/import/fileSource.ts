import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import type { ByteSource } from '@imprint/core/formats/byteSource';

/** Gives an action the bytes of a file, read piece by piece as it wants them. */
export function withFileSource<T>(path: string, action: (source: ByteSource) => T): T {
  const file = openSync(path, 'r');
  let later = false;
  const close = () => closeSync(file);
  try {
    const result = action({
      length: fstatSync(file).size,
      read(from, to) {
        const bytes = Buffer.allocUnsafe(Math.max(0, to - Math.max(0, from)));
        return bytes.subarray(0, readSync(file, bytes, 0, bytes.length, Math.max(0, from)));
      },
    });
    if (result instanceof Promise) {
      later = true;
      return result.finally(close) as T;
    }
    return result;
  } finally {
    if (!later) close();
  }
}
