import { times, tremolo, voices } from '../../../test/effects';
import { createRandom } from '../../../test/signals';
import { measureEnvelopes } from '../partials/partialEnvelopes';
import { readTone } from '../read';
import { measureUnison } from './unison';
import { some } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 1.5;

function unisonOf(signal: Float64Array, f0Hz: number) {
  const envelopes = measureEnvelopes(signal, RATE_HZ, f0Hz, { mostPartials: 24 });
  return measureUnison(envelopes, 0.02, SECONDS - 0.02);
}

const spread = (count: number, cents: number) =>
  Array.from({ length: count }, (_, i) => cents * (i / (count - 1) - 0.5));

describe('Detuned voices', () => {
  some(4).it.each([
    [55, 2, 10],
    [55, 7, 40],
    [110, 2, 4],
    [110, 3, 18],
    [220, 4, 30],
    [220, 7, 24],
    [440, 2, 25],
    [440, 6, 28],
  ])('%d Hz, %d voices over %d cents: counted, and their spread within 0.5 cents', (f0Hz, count, cents) => {
    const { trait } = unisonOf(voices({ f0Hz, seconds: SECONDS, cents: spread(count, cents), seed: count }), f0Hz);
    expect(trait.voices).toBe(count);
    expect(Math.abs(trait.detuneCents! - cents)).toBeLessThan(0.51);
    // The slowest beat of evenly spaced voices, by definition.
    expect(trait.beatHz).toBeCloseTo(f0Hz * (2 ** (trait.detuneCents! / (count - 1) / 1200) - 1), 2);
  });

  it('finds the middle of the voices when another pitch was taken for it', () => {
    const { centreCents } = unisonOf(voices({ f0Hz: 220, seconds: SECONDS, cents: [-5, 9] }), 220);
    expect(Math.abs(centreCents - 2)).toBeLessThan(0.3);
  });

  it('tells a spread, but no number, where the voices lie too close for the time there is', () => {
    const { trait } = unisonOf(voices({ f0Hz: 55, seconds: SECONDS, cents: spread(16, 30), mostPartials: 10 }), 55);
    expect(trait.voices).toBeNull();
    expect(trait.confidence).toBeLessThan(0.6);
  });

  const still: [string, (f0Hz: number) => Float64Array][] = [
    ['a steady tone', (f0Hz) => voices({ f0Hz, seconds: SECONDS })],
    ['a dying tone', (f0Hz) => times(voices({ f0Hz, seconds: SECONDS }), (t) => Math.exp(-5 * t))],
    ['a tremolo', (f0Hz) => times(voices({ f0Hz, seconds: SECONDS }), tremolo(5, 10))],
    [
      'noise at -20 dB',
      (f0Hz) => {
        const random = createRandom(3);
        return voices({ f0Hz, seconds: SECONDS }).map((x) => x + 0.04 * (2 * random() - 1));
      },
    ],
    ['a sine', (f0Hz) => voices({ f0Hz, seconds: SECONDS, mostPartials: 1 })],
  ];
  it.each(still)('claims nothing of %s', (_, make) => {
    for (const f0Hz of [55, 220, 440]) {
      expect(unisonOf(make(f0Hz), f0Hz).trait).toMatchObject({ detuneCents: null, voices: null });
    }
  });
});

describe('A pair of voices, read as a cut', () => {
  const held = (seconds: number) => (t: number) =>
    Math.min(1, t / 0.005) * (t < seconds ? 1 : Math.exp(-(t - seconds) / 0.05));

  some(1).it.each<[string, number, number, number, number]>([
    ['two saws', 110, 52, 0, 1.5],
    ['two saws of half a second', 110, 52, 0, 0.6],
    ['a low pair', 55, 40, 0, 1.5],
    ['one 9 dB under the other', 147, 17, -9, 1.5],
  ])('%s at %d Hz, %d cents apart', (_, f0Hz, cents, levelDb, seconds) => {
    const of = (at: number, seed: number) => voices({ f0Hz, seconds: seconds + 0.3, cents: [at], seed });
    const [low, high] = [of(-cents / 2, 1), of(cents / 2, 2)];
    const sound = times(
      low.map((x, i) => x + 10 ** (levelDb / 20) * high[i]),
      held(seconds),
    );
    const { unison, motion } = readTone({ channels: [Float32Array.from(sound)], sampleRateHz: RATE_HZ }).traits;
    expect(unison.voices).toBe(2);
    expect(Math.abs(unison.detuneCents! - cents)).toBeLessThan(2);
    expect(motion.filter(({ cause }) => cause !== 'beating')).toEqual([]);
  });
});
