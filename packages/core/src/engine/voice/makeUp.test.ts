import { CHAIN_RATE_HZ, chainOf, chainWithin, effect } from '../../../test/chains';
import { sourcePatch } from '../../../test/patches';
import { createRandom, decibels, harmonicTone } from '../../../test/signals';
import { filterSchema } from '../../patch/schemas/shapingSchema';
import { MakeUp } from './makeUp';
import { renderPatch } from '../render';
import { some } from '../../../test/thorough';

const RATE = 44100;
const rms = (signal: ArrayLike<number>, from: number, to: number) => {
  let sum = 0;
  for (let i = Math.round(from); i < Math.round(to); i++) sum += signal[i] ** 2;
  return decibels(Math.sqrt(sum / (to - from)));
};

function playThrough(source: object, filter: object | undefined, midi: number): Float32Array {
  const patch = sourcePatch({ ...source });
  if (filter) patch.layers[0].filters[0] = filterSchema.parse({ id: 'filter', ...filter });
  const notes = [{ onsetSeconds: 0, durationSeconds: 3, midi, velocity: 100 }];
  return renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 3 })[0];
}

describe('The make-up of a narrow filter', () => {
  const tracking = { kind: 'bandpass', cutoffHz: 261.63, keyTracking: 100, slopeDbPerOctave: 24 };

  it.each([
    [{ ...tracking, resonanceDb: 36 }, 36],
    [{ ...tracking, resonanceDb: 36 }, 57],
    [{ ...tracking, resonanceDb: 24 }, 81],
    [{ kind: 'formant', resonanceDb: 30 }, 60],
  ])('brings noise back to its level: %o at note %d', (filter, midi) => {
    const levelOf = (made: Float32Array) => rms(made, RATE, 3 * RATE);
    const dry = levelOf(playThrough({ kind: 'noise' }, undefined, midi));
    expect(levelOf(playThrough({ kind: 'noise' }, { ...filter, makeUp: false }, midi))).toBeLessThan(dry - 10);
    expect(Math.abs(levelOf(playThrough({ kind: 'noise' }, filter, midi)) - dry)).toBeLessThan(2);
  });

  it('lifts a saw within the note, and makes no peak at its start', () => {
    const saw = { kind: 'shape', shape: 'saw' };
    const dry = playThrough(saw, undefined, 45);
    const made = playThrough(saw, { ...tracking, cutoffHz: 5 * 261.63, resonanceDb: 12 }, 45);
    expect(Math.abs(rms(made, 0.2 * RATE, RATE) - rms(dry, 0.2 * RATE, RATE))).toBeLessThan(1);
    const peak = (signal: Float32Array) => signal.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(peak(made.subarray(0, 0.2 * RATE))).toBeLessThan(1.3 * peak(made.subarray(RATE)));
  });
});

describe('The make-up of the vocoder', () => {
  const random = createRandom(5);
  /** Noise that comes in words of different lengths. */
  const words = new Float64Array(8 * CHAIN_RATE_HZ).map((_, i) => {
    const along = (i / CHAIN_RATE_HZ) * 2.3;
    return along % 1 < 0.6 ? 0.3 * Math.sin(Math.PI * ((along % 1) / 0.6)) * (random() - 0.5) : 0;
  });
  const tone = harmonicTone({ f0Hz: 110, sampleRateHz: CHAIN_RATE_HZ, seconds: 8, amplitude: (n) => 1 / n });

  some(1).it.each([0, 50, 100])(
    'is as loud as what goes through, by words of a sample, with %d %% of noise',
    (noise) => {
      const around = () => {
        let at = 0;
        return {
          noteHz: 110,
          layer: () => {
            const block = words.slice(at, at + 128);
            at += 128;
            return [block, block] as const;
          },
        };
      };
      const levelOf = (makeUp: boolean) => {
        const fields = { keyLayerId: 'words', makeUp, noise };
        const [out] = chainWithin(around(), effect('vocoder', fields)).run(Float64Array.from(tone));
        return rms(out, 2 * CHAIN_RATE_HZ, 8 * CHAIN_RATE_HZ - 1000);
      };
      const dry = rms(tone, 2 * CHAIN_RATE_HZ, 8 * CHAIN_RATE_HZ - 1000);
      // Pauses, two fifths of the time, are not made up for.
      expect(Math.abs(levelOf(true) - dry)).toBeLessThan(3);
      expect(levelOf(false)).toBeLessThan(dry - 6);
    },
  );

  it('by itself, too', () => {
    const [out] = chainOf(effect('vocoder')).run(Float64Array.from(tone));
    expect(Math.abs(rms(out, 96000, 380000) - rms(tone, 96000, 380000))).toBeLessThan(1);
  });
});

describe('MakeUp', () => {
  it('turns down only when told to, and lifts by 48 dB at most', () => {
    const makeUp = new MakeUp(0.2, false, false);
    for (let i = 0; i < 500; i++) makeUp.follow(0.1, 0.4, 0.002);
    expect(makeUp.to).toBe(1);
    const down = new MakeUp(0.2, false, true);
    for (let i = 0; i < 500; i++) down.follow(0.1, 0.4, 0.002);
    expect(down.to).toBeCloseTo(0.5, 3);
    for (let i = 0; i < 5000; i++) makeUp.follow(0.1, 1e-9, 0.002);
    expect(decibels(makeUp.to)).toBeCloseTo(48, 0);
  });

  it('keeps its gain through a pause', () => {
    const makeUp = new MakeUp(0.2, true, true);
    for (let i = 0; i < 500; i++) makeUp.follow(0.1, 0.001, 0.002);
    for (let i = 0; i < 500; i++) makeUp.follow(0.1, 0, 0.002);
    expect(makeUp.to).toBeCloseTo(10, 1);
  });
});
