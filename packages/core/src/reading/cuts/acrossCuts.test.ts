import { traitsAcross } from './acrossCuts';
import { readTone } from '../read';
import type { Reading } from '../schema';
import { some } from '../../../test/thorough';

const RATE = 44100;

/** A saw through a 24 dB Butterworth low-pass at a cutoff, dying away. */
function note(f0Hz: number, cutoffHz: number): Reading {
  const signal = new Float32Array(RATE);
  for (let n = 1; n * f0Hz < 16000; n++) {
    const level = 0.3 / n / Math.sqrt(1 + ((n * f0Hz) / cutoffHz) ** 8);
    if (level < 1e-5) break;
    for (let i = 0; i < RATE; i++) {
      const t = i / RATE;
      signal[i] += level * Math.min(1, t / 0.01) * Math.exp(-2 * t) * Math.sin(2 * Math.PI * n * f0Hz * t);
    }
  }
  return readTone({ channels: [signal], sampleRateHz: RATE });
}

const keys = [110, 165, 247];
const same = note(147, 1500);

some(1).it.each([
  [100, (f0Hz: number) => 8 * f0Hz],
  [0, () => 1400],
] as const)('tells a cutoff that follows the key by %i %%', (percent, cutoffOf) => {
  const { keyTrackingPercent, noteCount, rangeOctaves } = traitsAcross(keys.map((f0Hz) => note(f0Hz, cutoffOf(f0Hz))));
  expect(noteCount).toBe(3);
  expect(rangeOctaves).toBeCloseTo(Math.log2(247 / 110), 2);
  expect(Math.abs(keyTrackingPercent! - percent)).toBeLessThan(15);
});

/** A reading with other values, for what needs no sound. */
function changed(reading: Reading, f0Hz: number, levelDb: number): Reading {
  const { traits } = reading;
  const [pitch, loudness] = [
    { ...traits.pitch, f0Hz },
    { ...traits.loudness, fullLevelDb: levelDb },
  ];
  return { ...reading, traits: { ...traits, pitch, loudness } };
}

it('tells how level follows the key', () => {
  const readings = keys.map((f0Hz) => changed(same, f0Hz, -12 - 3 * Math.log2(f0Hz / 110)));
  const { levelPerOctaveDb, levelScatterDb } = traitsAcross(readings);
  expect(levelPerOctaveDb).toBeCloseTo(-3, 0);
  expect(levelScatterDb).toBeLessThan(0.5);
});

it('tells what varies between notes of one pitch, and claims nothing of equal ones', () => {
  expect(traitsAcross([same, same]).varying).toEqual([]);
  const { varying, keyTrackingPercent } = traitsAcross([
    same,
    changed(same, 147, same.traits.loudness.fullLevelDb! - 4),
    same,
  ]);
  expect(varying.map(({ trait }) => trait)).toEqual(['level']);
  expect(varying[0].scatter).toBeGreaterThan(1.5);
  // One pitch says nothing about keys.
  expect(keyTrackingPercent).toBeNull();
});

it('has nothing to say of nothing', () => {
  expect(traitsAcross([])).toEqual({
    noteCount: 0,
    rangeOctaves: 0,
    keyTrackingPercent: null,
    levelPerOctaveDb: null,
    levelScatterDb: null,
    varying: [],
  });
});
