import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import wavefile from 'wavefile';
import { createRandom } from '../../test/signals';
import { type WavEncoding, readWav, writeWav } from './wav';

const random = createRandom(9);
const channels = [0, 1].map(() => Float32Array.from({ length: 1001 }, () => 1.8 * random() - 0.9));
const encodings: [WavEncoding, string, number][] = [
  ['int16', '16', 2 ** -15],
  ['int24', '24', 2 ** -23],
  ['float32', '32f', 0],
];

function expectNear(actual: ArrayLike<number>, expected: ArrayLike<number>, step: number): void {
  expect(actual.length).toBe(expected.length);
  for (let i = 0; i < expected.length; i++) expect(Math.abs(actual[i] - expected[i])).toBeLessThanOrEqual(step);
}

describe('WAV (RIFF/WAVE)', () => {
  it.each(encodings)('%s is read by the library wavefile as it was written', (encoding, depth, step) => {
    for (const sampleRateHz of [44100, 48000, 96000]) {
      const file = new wavefile.WaveFile(writeWav({ channels, sampleRateHz }, encoding));
      const format = file.fmt as { sampleRate: number; numChannels: number };
      expect(file.bitDepth).toBe(depth);
      expect(format.sampleRate).toBe(sampleRateHz);
      expect(format.numChannels).toBe(2);
      const samples = file.getSamples(false, Float64Array) as unknown as Float64Array[];
      const full = encoding === 'float32' ? 1 : encoding === 'int16' ? 32768 : 8388608;
      channels.forEach((channel, c) =>
        expectNear(
          samples[c].map((x) => x / full),
          channel,
          step,
        ),
      );
    }
  });

  it.each(encodings)('%s is read by sox as it was written', (encoding, depth) => {
    const folder = mkdtempSync(join(tmpdir(), 'imprint-wav-'));
    const path = join(folder, 'a.wav');
    writeFileSync(path, writeWav({ channels, sampleRateHz: 48000 }, encoding));
    const say = (option: string) => execFileSync('sox', ['--i', option, path], { encoding: 'utf8' }).trim();
    expect(say('-r')).toBe('48000');
    expect(say('-c')).toBe('2');
    expect(say('-s')).toBe('1001');
    // sox gives the precision of a float file as 25 or 24 bit, by version.
    if (encoding !== 'float32') expect(say('-b')).toBe(depth);
    rmSync(folder, { recursive: true });
  });

  it.each(['8', '16', '24', '32', '32f', '64'])('%s bit as the library wavefile writes it is read back', (depth) => {
    const file = new wavefile.WaveFile();
    const float = depth === '32f' || depth === '64';
    const bits = Number.parseInt(depth);
    const full = float ? 1 : 2 ** (bits - 1);
    const offset = depth === '8' ? 128 : 0;
    const scaled = channels.map((channel) =>
      Array.from(channel, (x) => (float ? x : Math.round(x * (full - 1)) + offset)),
    );
    file.fromScratch(2, 44100, depth, scaled);
    const { channels: read, sampleRateHz } = readWav(file.toBuffer());
    expect(sampleRateHz).toBe(44100);
    channels.forEach((channel, c) => expectNear(read[c], channel, float ? 1e-6 : 2.1 / full));
  });

  it('reads an extensible header, as sox writes it for 24 bit', () => {
    const folder = mkdtempSync(join(tmpdir(), 'imprint-wav-'));
    const [input, output] = [join(folder, 'a.wav'), join(folder, 'b.wav')];
    writeFileSync(input, writeWav({ channels, sampleRateHz: 44100 }, 'float32'));
    execFileSync('sox', ['-D', input, '-b', '24', output]);
    const bytes = new Uint8Array(readFileSync(output));
    expect(bytes[20] + 256 * bytes[21]).toBe(0xfffe);
    channels.forEach((channel, c) => expectNear(readWav(bytes).channels[c], channel, 2 ** -22));
    rmSync(folder, { recursive: true });
  });

  it('comes back byte for byte', () => {
    for (const [encoding] of encodings) {
      const bytes = writeWav({ channels, sampleRateHz: 44100 }, encoding);
      expect(writeWav(readWav(bytes), encoding)).toEqual(bytes);
    }
  });

  it('limits what is beyond full scale in whole numbers', () => {
    const { channels: read } = readWav(writeWav({ channels: [Float32Array.of(2, -2)], sampleRateHz: 44100 }, 'int16'));
    expect(read[0][0]).toBeCloseTo(1, 3);
    expect(read[0][1]).toBe(-1);
  });

  it('says when a file is cut off', () => {
    const bytes = writeWav({ channels, sampleRateHz: 44100 }, 'int16');
    expect(() => readWav(bytes.subarray(0, 2000))).toThrow('truncated');
    expect(() => readWav(bytes.subarray(0, 30))).toThrow('truncated');
  });
});
