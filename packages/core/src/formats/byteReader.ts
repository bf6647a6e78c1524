import type { ByteSource } from './byteSource';
import type { SoundFile } from './soundFile';

/** Four-letter chunk name at a place. Shorter at the end of the bytes. */
export function fourLetters(bytes: Uint8Array, offset: number): string {
  return String.fromCharCode(...bytes.subarray(offset, offset + 4));
}

export const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** How the samples of an uncompressed file are laid out. Whole numbers have 8 to 32 bits, floats 32 or 64. */
export interface SampleLayout {
  channels: number;
  bits: number;
  float: boolean;
  littleEndian: boolean;
  /** 8-bit WAV counts from 0 to 255, everything else is signed. */
  unsigned?: boolean;
}

/**
 * Turns interleaved samples into one array per channel, full scale ±1. An incomplete last frame is left out.
 */
export function deinterleave(bytes: Uint8Array, layout: SampleLayout): Float32Array[] {
  const { channels, bits } = layout;
  const read = sampleReader(viewOf(bytes), layout);
  const width = Math.ceil(bits / 8);
  const frames = Math.floor(bytes.length / (width * channels));
  const result = Array.from({ length: channels }, () => new Float32Array(frames));
  for (let c = 0; c < channels; c++) {
    const channel = result[c];
    for (let i = 0, at = c * width; i < frames; i++, at += width * channels) channel[i] = read(at);
  }
  return result;
}

function sampleReader(view: DataView, { bits, float, littleEndian, unsigned }: SampleLayout): (at: number) => number {
  if (float) return bits === 64 ? (at) => view.getFloat64(at, littleEndian) : (at) => view.getFloat32(at, littleEndian);
  // Containers are whole bytes, the value left-justified in them.
  switch (Math.ceil(bits / 8)) {
    case 1:
      return unsigned ? (at) => (view.getUint8(at) - 128) / 128 : (at) => view.getInt8(at) / 128;
    case 2:
      return (at) => view.getInt16(at, littleEndian) / 32768;
    case 3:
      return littleEndian
        ? (at) => (view.getUint16(at, true) + view.getInt8(at + 2) * 65536) / 8388608
        : (at) => (view.getInt8(at) * 65536 + view.getUint16(at + 1, false)) / 8388608;
    default:
      return (at) => view.getInt32(at, littleEndian) / 2147483648;
  }
}

const BLOCK_FRAMES = 1 << 16;

/** Where the samples of an uncompressed file stand, and how. */
export interface PlainSamples {
  start: number;
  end: number;
  layout: SampleLayout;
  sampleRateHz: number;
}

/** The samples of an uncompressed file as they are read from it. */
export function plainSoundFile(source: ByteSource, { start, end, layout, sampleRateHz }: PlainSamples): SoundFile {
  const frameBytes = Math.ceil(layout.bits / 8) * layout.channels;
  const frames = Math.floor((end - start) / frameBytes);
  return {
    announced: { sampleRateHz, channels: layout.channels, frames },
    *blocks() {
      for (let first = 0; first < frames; first += BLOCK_FRAMES) {
        const last = Math.min(frames, first + BLOCK_FRAMES);
        const bytes = source.read(start + first * frameBytes, start + last * frameBytes);
        yield { channels: deinterleave(bytes, layout), sampleRateHz };
      }
    },
  };
}
