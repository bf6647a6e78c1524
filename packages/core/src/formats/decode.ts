import { decibelsFromGain } from '../dsp/decibels';
import { InputError } from '../patch/inputError';
import type { Audio } from '../reading/audio';
import { readAiff } from './aiff';
import { fourLetters, viewOf } from './byteReader';
import { readWav } from './wav';

export type AudioFormat = 'WAV' | 'AIFF' | 'FLAC' | 'MP3' | 'Ogg Vorbis' | 'Opus';

export const MAX_SECONDS = 15 * 60;
const MIN_SECONDS = 0.05;
const RATES_HZ = { min: 8000, max: 192000 };
/** Peaks under this are silence: below the last bit of a 16-bit file with a little room. */
const SILENCE_DB = -84;

/** Decodes a sound file of any kind that can be a reference. Throws an InputError that says why one cannot. */
export async function decodeAudio(bytes: Uint8Array): Promise<Audio & { format: AudioFormat }> {
  if (bytes.length === 0) throw new InputError('This file is empty (0 bytes).');
  const format = sniff(bytes);
  if (!format) {
    throw new InputError(
      'This is not a sound file that can be read. WAV, AIFF, FLAC, MP3, Ogg Vorbis and Opus can be.',
    );
  }
  const audio = await decoders[format](bytes);
  checkUsable(audio);
  return { ...audio, format };
}

function sniff(bytes: Uint8Array): AudioFormat | undefined {
  const head = fourLetters(bytes, 0);
  const kind = fourLetters(bytes, 8);
  if (head === 'RIFF' && kind === 'WAVE') return 'WAV';
  if (head === 'FORM' && (kind === 'AIFF' || kind === 'AIFC')) return 'AIFF';
  if (head === 'fLaC') return 'FLAC';
  if (head === 'OggS') {
    const start = String.fromCharCode(...bytes.subarray(0, 80));
    return start.includes('OpusHead') ? 'Opus' : start.includes('vorbis') ? 'Ogg Vorbis' : undefined;
  }
  if (head.startsWith('ID3')) return 'MP3';
  const sync = bytes[0] === 0xff && (bytes[1] & 0xe0) === 0xe0;
  // Layer 3, a known bit rate and sampling rate: bytes that merely begin with ones fail here.
  return sync && (bytes[1] & 0x06) === 0x02 && (bytes[2] & 0xf0) !== 0xf0 && (bytes[2] & 0x0c) !== 0x0c
    ? 'MP3'
    : undefined;
}

/** The decoders are WebAssembly; each is loaded when a file of its kind comes. */
const decoders: Record<AudioFormat, (bytes: Uint8Array) => Promise<Audio> | Audio> = {
  WAV: readWav,
  AIFF: readAiff,
  FLAC: async (bytes) => {
    const { FLACDecoder } = await import('@wasm-audio-decoders/flac');
    return runDecoder('FLAC', new FLACDecoder(), async (decoder) => decoder.decodeFile(bytes), flacFrames(bytes));
  },
  MP3: async (bytes) => {
    const { MPEGDecoder } = await import('mpg123-decoder');
    return runDecoder('MP3', new MPEGDecoder(), async (decoder) => decoder.decode(bytes), mp3Frames(bytes));
  },
  'Ogg Vorbis': async (bytes) => {
    const { OggVorbisDecoder } = await import('@wasm-audio-decoders/ogg-vorbis');
    checkOggEnd(bytes);
    return runDecoder('Ogg Vorbis', new OggVorbisDecoder(), async (decoder) => decoder.decodeFile(bytes));
  },
  Opus: async (bytes) => {
    const { OggOpusDecoder } = await import('ogg-opus-decoder');
    checkOggEnd(bytes);
    return runDecoder('Opus', new OggOpusDecoder(), async (decoder) => decoder.decodeFile(bytes));
  },
};

interface WasmDecoder {
  ready: Promise<void>;
  free(): void;
}

interface Decoded {
  channelData: Float32Array[];
  samplesDecoded: number;
  sampleRate: number;
}

async function runDecoder<T extends WasmDecoder>(
  format: AudioFormat,
  decoder: T,
  decode: (decoder: T) => Promise<Decoded>,
  expectedFrames?: number,
): Promise<Audio> {
  try {
    await decoder.ready;
    const { channelData, samplesDecoded, sampleRate } = await decode(decoder);
    if (samplesDecoded === 0)
      throw new InputError(`This ${format} file is damaged: no sound could be decoded from it.`);
    if (expectedFrames !== undefined && samplesDecoded < expectedFrames * 0.995) {
      throw new InputError(
        `This ${format} file is truncated: it announces ${Math.round(expectedFrames / sampleRate)} s and holds ${(samplesDecoded / sampleRate).toFixed(1)} s. Copy or export it again.`,
      );
    }
    return { channels: channelData.map((channel) => channel.subarray(0, samplesDecoded)), sampleRateHz: sampleRate };
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(
      `This ${format} file is damaged: ${error instanceof Error ? error.message : 'it cannot be decoded'}.`,
    );
  } finally {
    decoder.free();
  }
}

/** Frames that a FLAC file announces in its STREAMINFO block; undefined when it leaves them open. */
function flacFrames(bytes: Uint8Array): number | undefined {
  if (bytes.length < 26) return 1;
  const frames = (bytes[21] & 0x0f) * 2 ** 32 + viewOf(bytes).getUint32(22, false);
  return frames > 0 ? frames : undefined;
}

/** Samples that an MP3 file announces in the header that encoders put into its first frame; undefined without one. */
function mp3Frames(bytes: Uint8Array): number | undefined {
  const head = bytes.subarray(0, 65536);
  for (let i = 0; i + 12 < head.length; i++) {
    const tag = fourLetters(head, i);
    if (tag !== 'Xing' && tag !== 'Info') continue;
    const view = viewOf(head);
    if ((view.getUint32(i + 4, false) & 1) === 0) return undefined;
    // 1152 samples a frame at MPEG 1 rates; half of that at the lower rates, which makes this test lenient there.
    return view.getUint32(i + 8, false) * 576;
  }
  return undefined;
}

/** The last page of an Ogg stream says that it is the last. */
function checkOggEnd(bytes: Uint8Array): void {
  for (let at = bytes.length - 27; at >= Math.max(0, bytes.length - 70000); at--) {
    if (bytes[at] !== 0x4f || fourLetters(bytes, at) !== 'OggS') continue;
    if ((bytes[at + 5] & 4) !== 0) return;
    break;
  }
  throw new InputError('This Ogg file is truncated: its last page is missing. Copy or export it again.');
}

function checkUsable({ channels, sampleRateHz }: Audio): void {
  if (channels.length > 2)
    throw new InputError(`This file has ${channels.length} channels; mono and stereo can be read.`);
  if (sampleRateHz < RATES_HZ.min || sampleRateHz > RATES_HZ.max) {
    throw new InputError(`This file has a rate of ${sampleRateHz} Hz; 8000 to 192000 Hz can be read.`);
  }
  const seconds = channels[0].length / sampleRateHz;
  if (seconds < MIN_SECONDS)
    throw new InputError(
      `This file holds ${Math.round(seconds * 1000)} ms of sound; a reference needs at least 50 ms.`,
    );
  if (seconds > MAX_SECONDS) {
    throw new InputError(
      `This file is ${(seconds / 60).toFixed(1)} minutes long; up to 15 minutes can be read. Cut out the part with the tone.`,
    );
  }
  let peak = 0;
  for (const channel of channels) {
    for (const x of channel) {
      if (!Number.isFinite(x)) throw new InputError('This file holds samples that are no numbers.');
      peak = Math.max(peak, Math.abs(x));
    }
  }
  if (decibelsFromGain(peak) < SILENCE_DB)
    throw new InputError('This file is silent: nothing in it is louder than −84 dBFS.');
}
