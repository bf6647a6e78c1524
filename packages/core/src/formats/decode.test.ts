import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { amplitudeAt, createRandom, decibels } from '../../test/signals';
import { InputError } from '../patch/inputError';
import { sourceOf } from './byteSource';
import { decodeAudio, inspectAudio } from './decode';
import { writeWav } from './wav';

const sound = (name: string) => new Uint8Array(readFileSync(join(import.meta.dirname, '../../test/sounds', name)));
// Decoders tell the console what they throw as well.
beforeAll(() => jest.spyOn(console, 'error').mockImplementation(() => undefined));

const sine = (seconds: number, sampleRateHz = 44100, level = 0.5) =>
  Float32Array.from(
    { length: Math.round(seconds * sampleRateHz) },
    (_, i) => level * Math.sin((2 * Math.PI * 440 * i) / sampleRateHz),
  );

/** AIFF-C that says it holds floats, of so many bits each (Apple, AIFF-C). */
function aifcOf(bits: number): number[] {
  const u32 = (value: number) => [value >>> 24, (value >> 16) & 255, (value >> 8) & 255, value & 255];
  const letters = (text: string) => [...text].map((letter) => letter.charCodeAt(0));
  const rate = [0x40, 0x0e, 0xac, 0x44, 0, 0, 0, 0, 0, 0];
  const common = [0, 1, ...u32(10_000), 0, bits, ...rate, ...letters('fl32'), 0, 0];
  const samples = Array.from({ length: 40_000 }, (_, i) => (i % 4 === 0 ? 0x3e : i % 251));
  const body = [
    ...letters('AIFC'),
    ...letters('COMM'),
    ...u32(common.length),
    ...common,
    ...letters('SSND'),
    ...u32(samples.length + 8),
    ...u32(0),
    ...u32(0),
    ...samples,
  ];
  return [...letters('FORM'), ...u32(body.length), ...body];
}

/** A FLAC file whose header announces an hour at 96 kHz (RFC 9639 8.2: 36 bits of samples, 20 of rate). */
function hourOfFlac(): Uint8Array {
  const bytes = sound('tone.flac').slice();
  const frames = 3600 * 96_000;
  bytes[18] = 96_000 >> 12;
  bytes[19] = (96_000 >> 4) & 255;
  bytes[20] = ((96_000 & 15) << 4) | (bytes[20] & 15);
  bytes.set([frames >>> 24, (frames >> 16) & 255, (frames >> 8) & 255, frames & 255], 22);
  return bytes;
}

describe('Decoding', () => {
  it.each([
    ['tone.flac', 'FLAC', 44100],
    ['tone.aiff', 'AIFF', 44100],
    ['tone.mp3', 'MP3', 44100],
    ['tone.ogg', 'Ogg Vorbis', 44100],
    ['tone.opus', 'Opus', 48000],
  ])('%s is the 440 Hz sine at −6 dBFS that sox made', async (name, format, rate) => {
    const audio = await decodeAudio(sound(name));
    expect(audio.format).toBe(format);
    expect(audio.sampleRateHz).toBe(rate);
    expect(audio.channels).toHaveLength(2);
    expect(Math.abs(audio.channels[0].length / rate - 1)).toBeLessThan(0.06);
    const middle = audio.channels[0].subarray(Math.round(0.2 * rate), Math.round(0.8 * rate));
    expect(decibels(amplitudeAt(middle, rate, 440))).toBeCloseTo(-6, 0);
  });

  it.each([8000, 22050, 96000, 192000])('takes WAV at %i Hz', async (sampleRateHz) => {
    const audio = await decodeAudio(writeWav({ channels: [sine(0.2, sampleRateHz)], sampleRateHz }, 'int16'));
    expect(audio.sampleRateHz).toBe(sampleRateHz);
  });

  const wav = (channels: Float32Array[], sampleRateHz = 44100) => writeWav({ channels, sampleRateHz }, 'int16');
  it.each([
    ['nothing', new Uint8Array(0), 'is empty'],
    ['a text', new TextEncoder().encode('This is no sound, only words about one.'), 'not a sound file'],
    ['silence', wav([new Float32Array(44100)]), 'is silent'],
    ['three channels', wav([sine(0.2), sine(0.2), sine(0.2)]), '3 channels'],
    ['a rate of 4 kHz', wav([sine(0.2, 4000)], 4000), 'rate of 4000 Hz'],
    ['20 ms', wav([sine(0.02)]), 'at least 50 ms'],
    ['half a WAV', wav([sine(1)]).subarray(0, 40000), 'truncated'],
    ['half a FLAC', sound('tone.flac').subarray(0, 12000), 'truncated'],
    ['half an Ogg', sound('tone.ogg').subarray(0, 5000), 'truncated'],
    ['half an Opus', sound('tone.opus').subarray(0, 6000), 'truncated'],
    ['half an AIFF', sound('tone.aiff').subarray(0, 100000), 'truncated'],
    ['half an MP3', sound('tone.mp3').subarray(0, 5000), 'truncated'],
    ['a FLAC of its header only', sound('tone.flac').subarray(0, 60), 'FLAC file is'],
  ])('says what is wrong with %s', async (_name, bytes, message) => {
    await expect(decodeAudio(bytes)).rejects.toThrow(message);
  });

  it('reads what it inspects, block by block', async () => {
    for (const name of ['tone.flac', 'tone.aiff', 'tone.mp3', 'tone.ogg', 'tone.opus']) {
      const audio = await decodeAudio(sound(name));
      expect(await inspectAudio(sourceOf(sound(name)))).toEqual({
        format: audio.format,
        durationSeconds: audio.channels[0].length / audio.sampleRateHz,
        sampleRateHz: audio.sampleRateHz,
        channels: audio.channels.length,
        notice: null,
      });
    }
  });

  it('turns samples far over full scale down, and says so', async () => {
    const loud = writeWav({ channels: [sine(0.2, 44100, 3e38)], sampleRateHz: 44100 }, 'float32');
    const { channels, notice } = await decodeAudio(loud);
    expect(Math.max(...channels[0].map(Math.abs))).toBeCloseTo(1, 6);
    expect(decibels(amplitudeAt(channels[0], 44100, 440))).toBeCloseTo(0, 1);
    expect(notice).toContain('+770 dBFS');
    // A float file that goes a little over full scale is as it was made.
    const hot = await decodeAudio(writeWav({ channels: [sine(0.2, 44100, 2)], sampleRateHz: 44100 }, 'float32'));
    expect(hot.notice).toBeNull();
    expect(Math.max(...hot.channels[0])).toBeCloseTo(2, 3);
  });

  /**
   * A file with a number in its header changed: `words` name the chunk, `offset` counts from its first
   * letter.
   */
  const patched = (name: string, words: string, offset: number, bytes: number[]) => {
    const changed = sound(name).slice();
    changed.set(bytes, Buffer.from(changed).indexOf(words) + offset);
    return changed;
  };
  const random = createRandom(4);
  const noiseAfter = (head: Uint8Array, length: number) =>
    Uint8Array.from({ length }, (_, i) => head[i] ?? Math.floor(256 * random()));
  it.each([
    ['40 bits a sample', patched('tone.aiff', 'COMM', 14, [0, 40]), '40-bit samples of coding "NONE"'],
    ['floats of 16 bits', Uint8Array.from(aifcOf(16)), '16-bit samples of coding "fl32"; 32-bit floats'],
    ['an MP3 header before noise', noiseAfter(sound('tone.mp3').subarray(0, 500), 20_000), 'no sound follows'],
    [
      'an ID3 tag before noise',
      noiseAfter(Uint8Array.of(0x49, 0x44, 0x33, 4, 0, 0, 0, 0, 0, 20), 9000),
      'no sound follows',
    ],
    ['an MP3 that lacks its last frames', sound('tone.mp3').subarray(0, sound('tone.mp3').length - 1500), 'truncated'],
    ['an hour of FLAC, by its header', hourOfFlac(), '60.0 minutes long'],
  ])('says what is wrong with %s', async (_name, bytes, message) => {
    await expect(decodeAudio(bytes)).rejects.toThrow(message);
  });

  it('an MP3 with a tag before and behind it, and padding between, is whole', async () => {
    const mp3 = sound('tone.mp3');
    const before = new Uint8Array(10 + 300);
    before.set([0x49, 0x44, 0x33, 4, 0, 0, 0, 0, 2, 44]);
    const behind = new Uint8Array(128);
    behind.set(new TextEncoder().encode('TAG'));
    const audio = await decodeAudio(Uint8Array.of(...before, ...mp3, ...new Uint8Array(200), ...behind));
    expect(audio.channels[0].length).toBeGreaterThan(40_000);
  });

  it.each([1, 2, 3, 4, 5])('a spoilt Opus file is taken or refused in words, series %i', async (seed) => {
    const spoil = createRandom(seed);
    const bytes = sound('tone.opus').slice();
    for (let i = 0; i < 8; i++) bytes[28 + Math.floor(170 * spoil())] = Math.floor(256 * spoil());
    await decodeAudio(bytes).catch((error: unknown) => expect(error).toBeInstanceOf(InputError));
  });

  it('says when a file is too long', async () => {
    const long = new Float32Array(8000 * 60 * 15 + 8000).fill(0.1);
    await expect(decodeAudio(wav([long], 8000))).rejects.toThrow('15.0 minutes long');
  });
});
