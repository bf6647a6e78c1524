const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const VALUES = new Uint8Array(128);
for (let i = 0; i < 64; i++) VALUES[ALPHABET.charCodeAt(i)] = i;

// An audio worklet has neither atob nor Buffer, so base64 (RFC 4648) is done here.
export function bytesFromBase64(text: string): Uint8Array {
  const body = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((body.length * 3) / 4));
  for (let i = 0, out = 0; out < bytes.length; i += 4) {
    const word =
      (VALUES[body.charCodeAt(i)] << 18) |
      (VALUES[body.charCodeAt(i + 1)] << 12) |
      ((VALUES[body.charCodeAt(i + 2)] ?? 0) << 6) |
      (VALUES[body.charCodeAt(i + 3)] ?? 0);
    bytes[out++] = word >> 16;
    if (out < bytes.length) bytes[out++] = (word >> 8) & 255;
    if (out < bytes.length) bytes[out++] = word & 255;
  }
  return bytes;
}

/** Characters that are made a string of at once; a call takes only so many arguments. */
const CHUNK = 8192;
const CODES = Uint8Array.from(ALPHABET, (letter) => letter.charCodeAt(0));
const PADDING = '='.charCodeAt(0);

export function base64FromBytes(bytes: Uint8Array): string {
  const codes = new Uint8Array(4 * Math.ceil(bytes.length / 3));
  for (let i = 0, out = 0; i < bytes.length; i += 3) {
    const word = (bytes[i] << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    codes[out++] = CODES[word >> 18];
    codes[out++] = CODES[(word >> 12) & 63];
    codes[out++] = i + 1 < bytes.length ? CODES[(word >> 6) & 63] : PADDING;
    codes[out++] = i + 2 < bytes.length ? CODES[word & 63] : PADDING;
  }
  let text = '';
  for (let i = 0; i < codes.length; i += CHUNK) text += String.fromCharCode(...codes.subarray(i, i + CHUNK));
  return text;
}
