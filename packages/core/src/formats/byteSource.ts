/** Bytes that are read piece by piece: of memory, or of a file too large for it. */
export interface ByteSource {
  readonly length: number;
  /**
   * The bytes from `from` up to but not including `to`, fewer at the end. They are the caller's until the
   * next call.
   */
  read(from: number, to: number): Uint8Array;
}

export const sourceOf = (bytes: Uint8Array): ByteSource => ({
  length: bytes.length,
  read: (from, to) => bytes.subarray(Math.max(0, from), Math.max(0, to)),
});
