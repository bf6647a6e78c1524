import { InputError } from '../patch/inputError';
import type { Audio } from '../reading/audio';
import { type PlainSamples, deinterleave, fourLetters, plainSoundFile, viewOf } from './byteReader';
import { type ByteSource, sourceOf } from './byteSource';
import type { SoundFile } from './soundFile';

/** How a WAV file's samples are stored. */
export type WavEncoding = 'int16' | 'int24' | 'float32';

const PCM = 1;
const FLOAT = 3;
const EXTENSIBLE = 0xfffe;

/**
 * Reads RIFF/WAVE: 8 to 32 bit whole numbers, 32 and 64 bit floats, plain or extensible header.
 * Throws an InputError for other codings and for files that end before their samples do.
 */
export function readWav(bytes: Uint8Array): Audio {
  const { start, end, layout, sampleRateHz } = findWavSamples(sourceOf(bytes));
  return { channels: deinterleave(bytes.subarray(start, end), layout), sampleRateHz };
}

/** The same, in blocks. */
export const openWav = (source: ByteSource): SoundFile => plainSoundFile(source, findWavSamples(source));

const HEADER_BYTES = 40;

function findWavSamples(source: ByteSource): PlainSamples {
  let format: WavFormat | undefined;
  for (let at = 12; at + 8 <= source.length;) {
    const bytes = source.read(at, at + HEADER_BYTES);
    const view = viewOf(bytes);
    const name = fourLetters(bytes, 0);
    const size = view.getUint32(4, true);
    if (name === 'fmt ' && bytes.length >= 24) {
      const tag = view.getUint16(8, true);
      format = {
        // An extensible header keeps the true coding in the first two bytes of its sub-format.
        tag: tag === EXTENSIBLE && size >= 26 && bytes.length >= 34 ? view.getUint16(32, true) : tag,
        channels: view.getUint16(10, true),
        sampleRateHz: view.getUint32(12, true),
        bits: view.getUint16(22, true),
      };
    } else if (name === 'data') {
      if (!format) throw new InputError('This WAV file has samples but no description of them (no "fmt " chunk).');
      return samplesOf(source, at + 8, size, format);
    }
    at += 8 + size + (size % 2);
  }
  throw new InputError('This WAV file is truncated: it ends before its samples begin.');
}

interface WavFormat {
  tag: number;
  channels: number;
  sampleRateHz: number;
  bits: number;
}

function samplesOf(source: ByteSource, start: number, size: number, format: WavFormat): PlainSamples {
  const { tag, channels, sampleRateHz, bits } = format;
  const float = tag === FLOAT;
  const known = float ? bits === 32 || bits === 64 : tag === PCM && bits >= 8 && bits <= 32;
  if (!known || channels < 1) {
    throw new InputError(
      `This WAV file has ${bits}-bit samples of coding ${tag}; 8 to 32 bit whole numbers or floats can be read.`,
    );
  }
  // Programs that stream a WAV file leave the largest number, or zero, for a length they did not know.
  const streamed = size === 0xffffffff || (size === 0 && start < source.length);
  if (!streamed && start + size > source.length) {
    const missing = Math.round((100 * (start + size - source.length)) / size);
    throw new InputError(
      `This WAV file is truncated: ${Math.max(1, missing)} % of its samples are missing. Copy or export it again.`,
    );
  }
  return {
    start,
    end: streamed ? source.length : start + size,
    layout: { channels, bits, float, littleEndian: true, unsigned: bits <= 8 },
    sampleRateHz,
  };
}

/** Writes RIFF/WAVE. Values beyond full scale are limited in the whole-number encodings and kept in float. */
export function writeWav({ channels, sampleRateHz }: Audio, encoding: WavEncoding): Uint8Array {
  const frames = channels[0].length;
  const width = encoding === 'int16' ? 2 : encoding === 'int24' ? 3 : 4;
  const frameBytes = width * channels.length;
  const dataBytes = frames * frameBytes;
  const float = encoding === 'float32';
  // A float file has an (empty) extension of its format, and states its number of frames in a "fact" chunk.
  const headerBytes = float ? 58 : 44;
  const bytes = new Uint8Array(headerBytes + dataBytes + (dataBytes % 2));
  const view = viewOf(bytes);
  let at = 0;
  const letters = (text: string) => {
    for (const letter of text) view.setUint8(at++, letter.charCodeAt(0));
  };
  const u32 = (value: number) => {
    view.setUint32(at, value, true);
    at += 4;
  };
  const u16 = (value: number) => {
    view.setUint16(at, value, true);
    at += 2;
  };
  letters('RIFF');
  u32(bytes.length - 8);
  letters('WAVEfmt ');
  u32(float ? 18 : 16);
  u16(float ? FLOAT : PCM);
  u16(channels.length);
  u32(sampleRateHz);
  u32(sampleRateHz * frameBytes);
  u16(frameBytes);
  u16(8 * width);
  if (float) {
    u16(0);
    letters('fact');
    u32(4);
    u32(frames);
  }
  letters('data');
  u32(dataBytes);
  const write = sampleWriter(view, encoding);
  for (let i = 0; i < frames; i++) {
    for (const channel of channels) {
      write(at, channel[i]);
      at += width;
    }
  }
  return bytes;
}

function sampleWriter(view: DataView, encoding: WavEncoding): (at: number, value: number) => void {
  if (encoding === 'float32') return (at, value) => view.setFloat32(at, value, true);
  const full = encoding === 'int16' ? 32768 : 8388608;
  const whole = (value: number) => Math.max(-full, Math.min(full - 1, Math.round(value * full)));
  if (encoding === 'int16') return (at, value) => view.setInt16(at, whole(value), true);
  return (at, value) => {
    const x = whole(value);
    view.setUint16(at, x & 0xffff, true);
    view.setInt8(at + 2, x >> 16);
  };
}
