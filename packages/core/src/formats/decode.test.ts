import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { amplitudeAt, decibels } from '../../test/signals';
import { decodeAudio } from './decode';
import { writeWav } from './wav';

const sound = (name: string) => new Uint8Array(readFileSync(join(__dirname, '../../test/sounds', name)));
const sine = (seconds: number, sampleRateHz = 44100, level = 0.5) =>
  Float32Array.from(
    { length: Math.round(seconds * sampleRateHz) },
    (_, i) => level * Math.sin((2 * Math.PI * 440 * i) / sampleRateHz),
  );

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

  it('says when a file is too long', async () => {
    const long = new Float32Array(8000 * 60 * 15 + 8000).fill(0.1);
    await expect(decodeAudio(wav([long], 8000))).rejects.toThrow('15.0 minutes long');
  });
});
