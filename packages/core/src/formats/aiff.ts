import { InputError } from '../patch/inputError';
import { type PlainSamples, type SampleLayout, fourLetters, plainSoundFile, viewOf } from './byteReader';
import type { ByteSource } from './byteSource';
import type { SoundFile } from './soundFile';

/** Codings of AIFF-C that hold plain samples. */
const CODINGS: Record<string, Pick<SampleLayout, 'littleEndian'> & { floatBits?: number }> = {
  NONE: { littleEndian: false },
  twos: { littleEndian: false },
  sowt: { littleEndian: true },
  fl32: { littleEndian: false, floatBits: 32 },
  FL32: { littleEndian: false, floatBits: 32 },
  fl64: { littleEndian: false, floatBits: 64 },
  FL64: { littleEndian: false, floatBits: 64 },
};

const HEADER_BYTES = 30;

/**
 * Opens AIFF and uncompressed AIFF-C. Throws an InputError for other codings and for files that end too
 * early.
 */
export function openAiff(source: ByteSource): SoundFile {
  const compressed = fourLetters(source.read(8, 12), 0) === 'AIFC';
  let common: Common | undefined;
  let soundStart: number | undefined;
  for (let at = 12; at + 8 <= source.length;) {
    const bytes = source.read(at, at + HEADER_BYTES);
    const view = viewOf(bytes);
    const name = fourLetters(bytes, 0);
    const size = view.getUint32(4, false);
    if (name === 'COMM' && bytes.length >= 26) {
      common = {
        channels: view.getUint16(8, false),
        frames: view.getUint32(10, false),
        bits: view.getUint16(14, false),
        sampleRateHz: extendedFloat(view, 16),
        coding: compressed ? fourLetters(bytes, 26) : 'NONE',
      };
    } else if (name === 'SSND' && bytes.length >= 16) soundStart = at + 16 + view.getUint32(8, false);
    at += 8 + size + (size % 2);
  }
  if (!common || soundStart === undefined) {
    throw new InputError('This AIFF file is truncated: it ends before its samples begin.');
  }
  return plainSoundFile(source, samplesOf(source, soundStart, common));
}

interface Common {
  channels: number;
  frames: number;
  bits: number;
  sampleRateHz: number;
  coding: string;
}

function samplesOf(source: ByteSource, start: number, common: Common): PlainSamples {
  const { channels, frames, bits, sampleRateHz } = common;
  const coding = CODINGS[common.coding];
  if (!coding || channels < 1) {
    throw new InputError(`This AIFF file is coded as "${common.coding}"; plain whole numbers or floats can be read.`);
  }
  const { littleEndian, floatBits } = coding;
  const known = floatBits === undefined ? bits >= 1 && bits <= 32 : bits === floatBits;
  if (!known) {
    const possible = floatBits === undefined ? '8 to 32 bit whole numbers' : `${floatBits}-bit floats`;
    throw new InputError(
      `This AIFF file has ${bits}-bit samples of coding "${common.coding}"; ${possible} can be read.`,
    );
  }
  const end = start + frames * channels * Math.ceil(bits / 8);
  if (end > source.length)
    throw new InputError('This AIFF file is truncated: some of its samples are missing. Copy or export it again.');
  return { start, end, layout: { channels, bits, littleEndian, float: floatBits !== undefined }, sampleRateHz };
}

/** 80-bit extended float, as AIFF stores its rate (Apple, AIFF 1.3; IEEE 754 double extended). */
function extendedFloat(view: DataView, at: number): number {
  const exponent = view.getUint16(at, false) & 0x7fff;
  const mantissa = view.getUint32(at + 2, false) * 2 ** 32 + view.getUint32(at + 6, false);
  return mantissa * 2 ** (exponent - 16383 - 63);
}
