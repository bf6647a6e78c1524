import { decibelsFromGain } from '../dsp/decibels';
import { InputError } from '../patch/inputError';
import type { Audio } from '../reading/audio';
import { openAiff } from './aiff';
import { fourLetters } from './byteReader';
import { type ByteSource, sourceOf } from './byteSource';
import { openFlac, openMp3, openOpus, openVorbis } from './compressed';
import type { SoundBlock, SoundFile } from './soundFile';
import { openWav } from './wav';

export type AudioFormat = 'WAV' | 'AIFF' | 'FLAC' | 'MP3' | 'Ogg Vorbis' | 'Opus';

export const MAX_SECONDS = 15 * 60;
const MIN_SECONDS = 0.05;
const RATES_HZ = { min: 8000, max: 192000 };
/** Peaks under this are silence: below the last bit of a 16-bit file with a little room. */
const SILENCE_DB = -84;
/**
 * Floats may go over full scale; what goes this far was scaled by another unit and is turned down to full
 * scale.
 */
const SANE_PEAK_DB = 24;

/** What a sound file is, its samples aside. */
export interface SoundInfo {
  format: AudioFormat;
  durationSeconds: number;
  sampleRateHz: number;
  channels: number;
  /** What was done to the samples and has to be told; null for nothing. */
  notice: string | null;
}

/**
 * Decodes a sound file of any kind that can be a reference. Throws an InputError that says why one cannot.
 */
export async function decodeAudio(bytes: Uint8Array): Promise<Audio & { format: AudioFormat; notice: string | null }> {
  const parts: Float32Array[][] = [];
  const info = await eachBlock(sourceOf(bytes), ({ channels }) => parts.push(channels));
  const channels = Array.from({ length: info.channels }, (_, c) => joined(parts.map((part) => part[c])));
  const { format, sampleRateHz, peak, notice } = info;
  if (notice) for (const channel of channels) for (let i = 0; i < channel.length; i++) channel[i] /= peak;
  return { channels, sampleRateHz, format, notice };
}

/**
 * What a sound file is, and whether it can be a reference, without holding its samples: they are decoded
 * block by block. Throws an InputError that says why it cannot.
 */
export async function inspectAudio(source: ByteSource): Promise<SoundInfo> {
  const { format, frames, sampleRateHz, channels, notice } = await eachBlock(source, () => {});
  return { format, durationSeconds: frames / sampleRateHz, sampleRateHz, channels, notice };
}

type Opened = Omit<SoundInfo, 'durationSeconds'> & { frames: number; peak: number };

async function eachBlock(source: ByteSource, take: (block: SoundBlock) => void): Promise<Opened> {
  if (source.length === 0) throw new InputError('This file is empty (0 bytes).');
  const format = sniff(source.read(0, 80));
  if (!format) {
    throw new InputError(
      'This is not a sound file that can be read. WAV, AIFF, FLAC, MP3, Ogg Vorbis and Opus can be.',
    );
  }
  const file = openers[format](source);
  // Before anything is decoded: a file can be far larger than its bytes.
  checkShape(file.announced);
  let frames = 0;
  let peak = 0;
  let shape: { channels: number; sampleRateHz: number } | undefined;
  for await (const block of file.blocks()) {
    const { channels, sampleRateHz } = block;
    shape ??= { channels: channels.length, sampleRateHz };
    if (channels.length !== shape.channels || sampleRateHz !== shape.sampleRateHz)
      throw new InputError(`This ${format} file changes its rate or channels on the way; one of each can be read.`);
    frames += channels[0].length;
    checkShape({ ...shape, frames });
    peak = Math.max(peak, peakOf(channels));
    take(block);
  }
  if (!shape || frames < MIN_SECONDS * shape.sampleRateHz) {
    const milliseconds = shape ? Math.round((1000 * frames) / shape.sampleRateHz) : 0;
    throw new InputError(`This file holds ${milliseconds} ms of sound; a reference needs at least 50 ms.`);
  }
  const peakDb = decibelsFromGain(peak);
  if (peakDb < SILENCE_DB) throw new InputError('This file is silent: nothing in it is louder than −84 dBFS.');
  const notice =
    peakDb > SANE_PEAK_DB
      ? `Its samples go up to +${Math.round(peakDb)} dBFS, far over full scale; it was turned down to full scale.`
      : null;
  return { format, frames, peak, notice, ...shape };
}

function sniff(bytes: Uint8Array): AudioFormat | undefined {
  const head = fourLetters(bytes, 0);
  const kind = fourLetters(bytes, 8);
  if (head === 'RIFF' && kind === 'WAVE') return 'WAV';
  if (head === 'FORM' && (kind === 'AIFF' || kind === 'AIFC')) return 'AIFF';
  if (head === 'fLaC') return 'FLAC';
  if (head === 'OggS') {
    const start = String.fromCharCode(...bytes);
    return start.includes('OpusHead') ? 'Opus' : start.includes('vorbis') ? 'Ogg Vorbis' : undefined;
  }
  if (head.startsWith('ID3')) return 'MP3';
  const sync = bytes[0] === 0xff && (bytes[1] & 0xe0) === 0xe0;
  // Layer 3, a known bit rate and sampling rate: bytes that merely begin with ones fail here.
  return sync && (bytes[1] & 0x06) === 0x02 && (bytes[2] & 0xf0) !== 0xf0 && (bytes[2] & 0x0c) !== 0x0c
    ? 'MP3'
    : undefined;
}

const openers: Record<AudioFormat, (source: ByteSource) => SoundFile> = {
  WAV: openWav,
  AIFF: openAiff,
  FLAC: openFlac,
  MP3: (source) => openMp3(source, MAX_SECONDS),
  'Ogg Vorbis': openVorbis,
  Opus: openOpus,
};

function checkShape({ channels, sampleRateHz, frames }: SoundFile['announced']): void {
  if (channels !== undefined && channels !== 1 && channels !== 2)
    throw new InputError(`This file has ${channels} channels; mono and stereo can be read.`);
  if (sampleRateHz === undefined) return;
  if (!(sampleRateHz >= RATES_HZ.min && sampleRateHz <= RATES_HZ.max)) {
    throw new InputError(`This file has a rate of ${sampleRateHz} Hz; 8000 to 192000 Hz can be read.`);
  }
  if (frames !== undefined && frames > MAX_SECONDS * sampleRateHz) {
    const minutes = Math.max(frames / sampleRateHz / 60, MAX_SECONDS / 60).toFixed(1);
    throw new InputError(
      `This file is ${minutes} minutes long; up to 15 minutes can be read. Cut out the part with the tone.`,
    );
  }
}

function peakOf(channels: readonly Float32Array[]): number {
  let peak = 0;
  for (const channel of channels) {
    for (const x of channel) {
      if (!Number.isFinite(x)) throw new InputError('This file holds samples that are no numbers.');
      peak = Math.max(peak, Math.abs(x));
    }
  }
  return peak;
}

function joined(parts: readonly Float32Array[]): Float32Array {
  const whole = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
