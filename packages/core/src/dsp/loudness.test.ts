import { integratedLoudness, kWeighting } from './loudness';
import { some } from '../../test/thorough';

/** Stereo sine of 1000 Hz in steps of [level dBFS, seconds], as EBU Tech 3341 describes its test signals. */
function steps(sampleRateHz: number, ...parts: [levelDb: number, seconds: number][]): [Float32Array, Float32Array] {
  const samples = new Float32Array(parts.reduce((sum, [, seconds]) => sum + Math.round(seconds * sampleRateHz), 0));
  let at = 0;
  for (const [levelDb, seconds] of parts) {
    for (const end = at + Math.round(seconds * sampleRateHz); at < end; at++) {
      samples[at] = 10 ** (levelDb / 20) * Math.sin((2 * Math.PI * 1000 * at) / sampleRateHz);
    }
  }
  return [samples, samples];
}

describe('Loudness by ITU-R BS.1770', () => {
  it.each([44100, 48000])('a 997 Hz sine at 0 dBFS in one channel is −3.01 LKFS at %i Hz (BS.1770)', (rate) => {
    const sine = Float32Array.from({ length: 5 * rate }, (_, i) => Math.sin((2 * Math.PI * 997 * i) / rate));
    expect(integratedLoudness([sine, new Float32Array(sine.length)], rate)).toBeCloseTo(-3.01, 2);
  });

  it('has the published coefficients at 48 kHz (BS.1770, tables 1 and 2)', () => {
    const [shelf, highPass] = kWeighting(48000);
    expect(shelf.b0).toBeCloseTo(1.53512485958697, 9);
    expect(shelf.b1).toBeCloseTo(-2.69169618940638, 9);
    expect(shelf.b2).toBeCloseTo(1.19839281085285, 9);
    expect(shelf.a1).toBeCloseTo(-1.69065929318241, 9);
    expect(shelf.a2).toBeCloseTo(0.73248077421585, 9);
    expect(highPass.a1).toBeCloseTo(-1.99004745483398, 9);
    expect(highPass.a2).toBeCloseTo(0.99007225036621, 9);
  });

  // EBU Tech 3341, test signals 1 to 5, tolerance 0.1 LU. Number 6 is five-channel.
  some(1).describe.each([44100, 48000])('EBU Tech 3341 test signals at %i Hz', (rate) => {
    it.each([
      [1, [[-23, 20]], -23],
      [2, [[-33, 20]], -33],
      [
        3,
        [
          [-36, 10],
          [-23, 60],
          [-36, 10],
        ],
        -23,
      ],
      [
        4,
        [
          [-72, 10],
          [-36, 10],
          [-23, 60],
          [-36, 10],
          [-72, 10],
        ],
        -23,
      ],
      [
        5,
        [
          [-26, 20],
          [-20, 20.1],
          [-26, 20],
        ],
        -23,
      ],
    ] as [number, [number, number][], number][])('signal %i', (_number, parts, expected) => {
      expect(Math.abs(integratedLoudness(steps(rate, ...parts), rate) - expected)).toBeLessThanOrEqual(0.1);
    });
  });

  it('is −Infinity for silence, and measures sounds shorter than a block', () => {
    expect(integratedLoudness([new Float32Array(48000)], 48000)).toBe(-Infinity);
    const [short] = steps(48000, [-20, 0.2]);
    expect(integratedLoudness([short, short], 48000)).toBeCloseTo(-20, 0);
  });
});
