import { InputError } from '../patch/inputError';
import type { Audio } from '../reading/audio';
import { type SampleLayout, deinterleave, fourLetters, viewOf } from './byteReader';

/** Codings of AIFF-C that hold plain samples. */
const CODINGS: Record<string, Pick<SampleLayout, 'float' | 'littleEndian'>> = {
  NONE: { float: false, littleEndian: false },
  twos: { float: false, littleEndian: false },
  sowt: { float: false, littleEndian: true },
  fl32: { float: true, littleEndian: false },
  FL32: { float: true, littleEndian: false },
  fl64: { float: true, littleEndian: false },
  FL64: { float: true, littleEndian: false },
};

/** Reads AIFF and uncompressed AIFF-C. Throws an InputError for other codings and for files that end too early. */
export function readAiff(bytes: Uint8Array): Audio {
  const view = viewOf(bytes);
  const compressed = fourLetters(bytes, 8) === 'AIFC';
  let common: { channels: number; frames: number; bits: number; sampleRateHz: number; coding: string } | undefined;
  let sound: { start: number; size: number } | undefined;
  for (let at = 12; at + 8 <= bytes.length;) {
    const name = fourLetters(bytes, at);
    const size = view.getUint32(at + 4, false);
    const body = at + 8;
    if (name === 'COMM' && body + 18 <= bytes.length) {
      common = {
        channels: view.getUint16(body, false),
        frames: view.getUint32(body + 2, false),
        bits: view.getUint16(body + 6, false),
        sampleRateHz: extendedFloat(view, body + 8),
        coding: compressed ? fourLetters(bytes, body + 18) : 'NONE',
      };
    } else if (name === 'SSND') {
      sound = { start: body + 8 + view.getUint32(body, false), size };
    }
    at = body + size + (size % 2);
  }
  if (!common || !sound) throw new InputError('This AIFF file is truncated: it ends before its samples begin.');
  const { channels, frames, bits, sampleRateHz } = common;
  const coding = CODINGS[common.coding];
  if (!coding || channels < 1) {
    throw new InputError(`This AIFF file is coded as "${common.coding}"; plain whole numbers or floats can be read.`);
  }
  const end = sound.start + frames * channels * Math.ceil(bits / 8);
  if (end > bytes.length)
    throw new InputError('This AIFF file is truncated: some of its samples are missing. Copy or export it again.');
  return { channels: deinterleave(bytes.subarray(sound.start, end), { channels, bits, ...coding }), sampleRateHz };
}

/** 80-bit extended float, as AIFF stores its rate (Apple, AIFF 1.3; IEEE 754 double extended). */
function extendedFloat(view: DataView, at: number): number {
  const exponent = view.getUint16(at, false) & 0x7fff;
  const mantissa = view.getUint32(at + 2, false) * 2 ** 32 + view.getUint32(at + 6, false);
  return mantissa * 2 ** (exponent - 16383 - 63);
}
