import { readTone } from '../read';
import { partialsOverTime } from './partialsOverTime';

const RATE_HZ = 44100;

it('tells the level of every partial over time, exactly for what is known', () => {
  // The second fades by 20 dB a second, the third begins after half of it, all along a pitch that sways.
  let phase = 0;
  const channel = Float32Array.from({ length: 1.5 * RATE_HZ }, (_, i) => {
    const t = i / RATE_HZ;
    phase += (2 * Math.PI * 220 * 2 ** ((0.3 * Math.sin(2 * Math.PI * 5 * t)) / 12)) / RATE_HZ;
    return 0.4 * Math.sin(phase) + 0.2 * 10 ** -t * Math.sin(2 * phase) + (t > 0.5 ? 0.1 : 0) * Math.sin(3 * phase);
  });
  const audio = { channels: [channel], sampleRateHz: RATE_HZ };
  const { startSeconds, hopSeconds, levelsDb } = partialsOverTime(audio, readTone(audio), 8);
  const at = (n: number, seconds: number) => levelsDb[n - 1][Math.round((seconds - startSeconds) / hopSeconds)];
  expect(levelsDb).toHaveLength(8);
  for (const seconds of [0.2, 0.8, 1.3]) {
    expect(Math.abs(at(1, seconds) - 20 * Math.log10(0.4))).toBeLessThan(0.3);
    expect(Math.abs(at(2, seconds) - (20 * Math.log10(0.2) - 20 * seconds))).toBeLessThan(0.5);
    expect(at(5, seconds)).toBeLessThan(-50);
  }
  expect(at(3, 0.47)).toBeLessThan(-50);
  expect(Math.abs(at(3, 0.53) + 20)).toBeLessThan(0.5);
});

it('has no partials of what has no pitch', () => {
  const audio = { channels: [new Float32Array(RATE_HZ)], sampleRateHz: RATE_HZ };
  expect(partialsOverTime(audio, readTone(audio), 8).levelsDb).toEqual([]);
});
