import { InputError } from '../patch/inputError';
import { fourLetters, viewOf } from './byteReader';
import type { ByteSource } from './byteSource';
import { walkMp3 } from './mp3Frames';
import type { SoundBlock, SoundFile } from './soundFile';

/**
 * Files that a WebAssembly decoder reads, chunk by chunk. Each decoder is loaded when a file of its kind
 * comes.
 */

const CHUNK_BYTES = 1 << 18;

interface Decoded {
  channelData: Float32Array[];
  samplesDecoded: number;
  sampleRate: number;
  errors: { message: string }[];
}

interface Decoder {
  ready: Promise<void>;
  decode(bytes: Uint8Array): Decoded | Promise<Decoded>;
  /** What is left once all bytes were given. */
  flush?(): Promise<Decoded>;
  free(): void;
}

export const openFlac = (source: ByteSource): SoundFile => {
  const { frames, ...announced } = flacInfo(source);
  const open = async () => new (await import('@wasm-audio-decoders/flac')).FLACDecoder();
  return { announced: { ...announced, frames }, blocks: () => decoded('FLAC', source, open, frames) };
};

export const openMp3 = (source: ByteSource, maxSeconds: number): SoundFile => {
  const announced = walkMp3(source, maxSeconds);
  const open = async () => new (await import('mpg123-decoder')).MPEGDecoder();
  // A decoder may leave out the delay and padding that the file tells of: up to three frames.
  return { announced, blocks: () => decoded('MP3', source, open, announced.frames - 3 * 1152) };
};

export const openVorbis = (source: ByteSource): SoundFile => {
  const frames = lastPageFrames(source);
  const { channels, sampleRateHz } = vorbisInfo(source);
  const open = async () => new (await import('@wasm-audio-decoders/ogg-vorbis')).OggVorbisDecoder();
  return { announced: { channels, sampleRateHz, frames }, blocks: () => decoded('Ogg Vorbis', source, open, frames) };
};

const OPUS_RATE_HZ = 48000;

export const openOpus = (source: ByteSource): SoundFile => {
  const frames = lastPageFrames(source);
  const channels = opusChannels(source);
  const open = async () => new (await import('ogg-opus-decoder')).OggOpusDecoder();
  return {
    announced: { channels, sampleRateHz: OPUS_RATE_HZ, frames },
    // What is played leaves out the first samples, which the header counts and the last page does not.
    blocks: () => decoded('Opus', source, open, frames - OPUS_RATE_HZ / 4),
  };
};

/**
 * @param expectedFrames what must come out for the file to be whole; undefined where the header leaves it
 *   open
 */
async function* decoded(
  format: string,
  source: ByteSource,
  open: () => Promise<Decoder>,
  expectedFrames: number | undefined,
): AsyncIterable<SoundBlock> {
  const decoder = await open();
  let total = 0;
  let rate = 0;
  let faults = 0;
  const blockOf = ({ channelData, samplesDecoded, sampleRate, errors }: Decoded): SoundBlock | undefined => {
    faults += errors.length;
    if (samplesDecoded <= 0) return undefined;
    total += samplesDecoded;
    rate = sampleRate;
    return { channels: channelData.map((channel) => channel.subarray(0, samplesDecoded)), sampleRateHz: sampleRate };
  };
  try {
    await decoder.ready;
    for (let at = 0; at < source.length; at += CHUNK_BYTES) {
      // A decoder may keep the chunk until it has read on.
      const block = blockOf(await decoder.decode(source.read(at, at + CHUNK_BYTES).slice()));
      if (block) yield block;
    }
    const block = decoder.flush && blockOf(await decoder.flush());
    if (block) yield block;
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw damaged(format, error instanceof Error ? error.message : 'it cannot be decoded');
  } finally {
    letGo(decoder);
  }
  if (total === 0) throw damaged(format, 'no sound could be decoded from it');
  if (expectedFrames !== undefined && total < expectedFrames * 0.995) {
    if (faults > 0) throw damaged(format, 'parts of it cannot be decoded');
    throw new InputError(
      `This ${format} file is truncated: it announces ${(expectedFrames / rate).toFixed(1)} s and holds ${(total / rate).toFixed(1)} s. Copy or export it again.`,
    );
  }
}

function letGo(decoder: Decoder): void {
  try {
    decoder.free();
  } catch {
    // A file can make a decoder write over its own memory, which it then cannot put in order; the memory goes
    // with it.
  }
}

const damaged = (format: string, why: string) =>
  new InputError(`This ${format} file is damaged: ${why}. Copy or export it again.`);

/** The STREAMINFO block, which comes first (RFC 9639 8.2). */
function flacInfo(source: ByteSource): { sampleRateHz: number; channels: number; frames?: number } {
  const bytes = source.read(0, 42);
  if (bytes.length < 42 || (bytes[4] & 0x7f) !== 0) throw damaged('FLAC', 'its description is missing');
  const frames = (bytes[21] & 0x0f) * 2 ** 32 + viewOf(bytes).getUint32(22, false);
  return {
    sampleRateHz: (bytes[18] << 12) | (bytes[19] << 4) | (bytes[20] >> 4),
    channels: ((bytes[20] >> 1) & 7) + 1,
    frames: frames > 0 ? frames : undefined,
  };
}

/** The identification header (Vorbis I specification 4.2.2), after the Ogg page's own of 28 bytes. */
function vorbisInfo(source: ByteSource): { sampleRateHz: number; channels: number } {
  const bytes = source.read(28, 44);
  if (bytes.length < 16) throw damaged('Ogg Vorbis', 'its description is missing');
  return { channels: bytes[11], sampleRateHz: viewOf(bytes).getUint32(12, true) };
}

/** The identification header (RFC 7845 5.1), after the Ogg page's own of 28 bytes. */
function opusChannels(source: ByteSource): number {
  const bytes = source.read(28, 47);
  if (bytes.length < 19 || bytes[8] >> 4 !== 0) throw damaged('Opus', 'its description is missing');
  if (bytes[18] !== 0 && bytes[9] <= 2) throw damaged('Opus', 'it maps its channels in a way that is not known');
  return bytes[9];
}

const OGG_PAGE_BYTES = 27;
/** A page holds at most 255 segments of 255 bytes behind its header (RFC 3533 6). */
const LONGEST_OGG_PAGE = OGG_PAGE_BYTES + 255 + 255 * 255;

/**
 * Where the last page ends in time, in samples. It says that it is the last; a file without such a page was
 * cut off.
 */
function lastPageFrames(source: ByteSource): number {
  const bytes = source.read(source.length - LONGEST_OGG_PAGE, source.length);
  const view = viewOf(bytes);
  for (let at = bytes.length - OGG_PAGE_BYTES; at >= 0; at--) {
    if (bytes[at] !== 0x4f || fourLetters(bytes, at) !== 'OggS') continue;
    if ((bytes[at + 5] & 4) === 0) break;
    return view.getUint32(at + 6, true) + view.getInt32(at + 10, true) * 2 ** 32;
  }
  throw new InputError('This Ogg file is truncated: its last page is missing. Copy or export it again.');
}
