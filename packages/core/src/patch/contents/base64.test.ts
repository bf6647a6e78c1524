import { base64FromBytes, bytesFromBase64 } from './base64';

// Against Node's own (RFC 4648), at the edges of groups and of what is joined at once.
it.each([0, 1, 2, 3, 4, 5, 6143, 6144, 6145, 24577])('of %i bytes is what Node makes of them, and back', (length) => {
  const bytes = Uint8Array.from({ length }, (_, i) => (i * 7 + (i >> 8)) & 255);
  const text = base64FromBytes(bytes);
  expect(text).toBe(Buffer.from(bytes).toString('base64'));
  expect(Buffer.from(bytesFromBase64(text)).equals(Buffer.from(bytes))).toBe(true);
});
