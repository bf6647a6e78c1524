import { InputError } from '../patch/inputError';
import { fourLetters, viewOf } from './byteReader';
import type { ByteSource } from './byteSource';

/** What the frames of an MP3 file tell without decoding them. */
export interface Mp3Frames {
  sampleRateHz: number;
  channels: number;
  /** Samples a channel, those of the tag's own frame left out. */
  frames: number;
}

/**
 * kbit/s by bit-rate index (ISO 11172-3 2.4.2.3 and ISO 13818-3 2.4.2.3), layer 3 of MPEG 1 and of MPEG 2.
 */
const KBITS = [
  [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
];
const RATES_HZ = [44100, 48000, 32000];
/** Frames that must follow one another before bytes count as MP3. */
const FRAMES_IN_A_ROW = 3;
const SEARCHED_BYTES = 1 << 17;
/** What players skip without a word: a slip of an editor, a tag of a kind of its own. */
const DAMAGED_SHARE = 0.02;
const WINDOW_BYTES = 1 << 16;

interface FrameHeader {
  bytes: number;
  samples: number;
  sampleRateHz: number;
  channels: number;
  version: number;
}

/**
 * Walks from frame to frame. Throws an InputError when what looks like MP3 holds no frames, when frames are
 * missing at its end, or when more than a little of it is no frame.
 *
 * @param maxSamples where to stop: what is longer is too long anyway
 */
export function walkMp3(source: ByteSource, maxSeconds: number): Mp3Frames {
  const window = windowOver(source);
  const first = findFirstFrame(window, source.length);
  const { sampleRateHz, channels } = first.header;
  const announced = announcedFrames(window.at(first.at, first.header.bytes));
  const end = source.length - tagBytesAtEnd(source);
  let at = first.at;
  let count = 0;
  let samples = 0;
  let damaged = 0;
  while (at < end && samples <= maxSeconds * sampleRateHz) {
    const header = headerOf(window.at(at, 4));
    if (!header || !fits(header, first.header)) {
      // Zeros at the end are padding, which no player minds.
      if (window.at(at, 1)[0] !== 0) damaged++;
      at++;
      continue;
    }
    if (at + header.bytes > end) throw truncated('its last frame is cut off');
    at += header.bytes;
    count++;
    samples += header.samples;
  }
  if (damaged > DAMAGED_SHARE * source.length + 4) {
    const percent = Math.max(1, Math.round((100 * damaged) / source.length));
    throw new InputError(`This MP3 file is damaged: ${percent} % of its bytes are no sound. Copy or export it again.`);
  }
  if (announced !== undefined) {
    // The frame that announces holds no sound.
    if (at >= end && count - 1 < announced) {
      throw truncated(`it announces ${announced} frames and holds ${Math.max(0, count - 1)}`);
    }
    samples -= first.header.samples;
  }
  return { sampleRateHz, channels, frames: samples };
}

const truncated = (why: string) => new InputError(`This MP3 file is truncated: ${why}. Copy or export it again.`);

function findFirstFrame(window: Window, length: number): { at: number; header: FrameHeader } {
  const start = id3Bytes(window);
  if (start >= length) throw truncated('it ends within its description');
  for (let at = start; at < Math.min(length, start + SEARCHED_BYTES); at++) {
    const header = headerOf(window.at(at, 4));
    if (header && hasFollowers(window, at, header, length)) return { at, header };
  }
  throw new InputError('This MP3 file is damaged: it begins like one, but no sound follows. Copy or export it again.');
}

function hasFollowers(window: Window, at: number, first: FrameHeader, length: number): boolean {
  let header: FrameHeader | undefined = first;
  let next = at;
  for (let i = 1; i < FRAMES_IN_A_ROW; i++) {
    next += header.bytes;
    // A file may be shorter than that.
    if (next >= length) return i > 1;
    header = headerOf(window.at(next, 4));
    if (!header || !fits(header, first)) return false;
  }
  return true;
}

const fits = (a: FrameHeader, b: FrameHeader) => a.version === b.version && a.sampleRateHz === b.sampleRateHz;

/** A frame header of layer 3 (ISO 11172-3 2.4.1.3); undefined for other bytes. */
function headerOf(bytes: Uint8Array): FrameHeader | undefined {
  if (bytes.length < 4 || bytes[0] !== 0xff || (bytes[1] & 0xe6) !== 0xe2) return undefined;
  // 3 is MPEG 1, 2 is MPEG 2, 0 is the extension to low rates that is called MPEG 2.5.
  const version = (bytes[1] >> 3) & 3;
  const rateIndex = (bytes[2] >> 2) & 3;
  const kbits = KBITS[version === 3 ? 0 : 1][bytes[2] >> 4];
  if (version === 1 || rateIndex === 3 || !kbits) return undefined;
  const sampleRateHz = RATES_HZ[rateIndex] / (version === 3 ? 1 : version === 2 ? 2 : 4);
  const samples = version === 3 ? 1152 : 576;
  const padding = (bytes[2] >> 1) & 1;
  return {
    bytes: Math.floor(((samples / 8) * kbits * 1000) / sampleRateHz) + padding,
    samples,
    sampleRateHz,
    channels: bytes[3] >> 6 === 3 ? 1 : 2,
    version,
  };
}

/**
 * Frames of sound that encoders announce in a first frame without sound ("Xing", "Info"); undefined without
 * one.
 */
function announcedFrames(frame: Uint8Array): number | undefined {
  for (let i = 4; i + 12 <= Math.min(frame.length, 64); i++) {
    const tag = fourLetters(frame, i);
    if (tag !== 'Xing' && tag !== 'Info') continue;
    const view = viewOf(frame);
    return (view.getUint32(i + 4, false) & 1) === 0 ? undefined : view.getUint32(i + 8, false);
  }
  return undefined;
}

/** Length of the description at the start (ID3v2: ten bytes, and a length of four times seven bits). */
function id3Bytes(window: Window): number {
  let at = 0;
  for (let head = window.at(at, 10); fourLetters(head, 0).startsWith('ID3') && head.length === 10;) {
    const size = (head[6] << 21) | (head[7] << 14) | (head[8] << 7) | head[9];
    at += 10 + size + ((head[5] & 0x10) !== 0 ? 10 : 0);
    head = window.at(at, 10);
  }
  return at;
}

/** Descriptions at the end: ID3v1 (128 bytes), and APE before it, which tells its own length. */
function tagBytesAtEnd(source: ByteSource): number {
  let bytes = fourLetters(source.read(source.length - 128, source.length), 0).startsWith('TAG') ? 128 : 0;
  const footer = source.read(source.length - bytes - 32, source.length - bytes);
  if (footer.length === 32 && fourLetters(footer, 0) + fourLetters(footer, 4) === 'APETAGEX') {
    bytes += viewOf(footer).getUint32(12, true) + ((footer[23] & 0x80) !== 0 ? 32 : 0);
  }
  return Math.min(bytes, source.length);
}

interface Window {
  /** Some bytes from a place on; fewer at the end. */
  at(start: number, count: number): Uint8Array;
}

/** Small reads at places that move on, each from a piece that is read once. */
function windowOver(source: ByteSource): Window {
  let from = 0;
  let bytes = new Uint8Array(0);
  return {
    at(start, count) {
      if (start < from || start + count > from + bytes.length) {
        from = start;
        bytes = source.read(start, start + Math.max(count, WINDOW_BYTES)).slice();
      }
      return bytes.subarray(start - from, start - from + count);
    },
  };
}
