import { ducking, lowpassed, phaser, sweeping, times, tremolo, voices, withDelay } from '../../../test/effects';
import { divisionOf } from '../piece/heardDivision';
import { measureLevel } from '../level/levelContour';
import { measureMotion } from './motion';
import { measureEnvelopes } from '../partials/partialEnvelopes';
import { findRoundBrightness } from './roundBrightness';
import { measureUnison } from './unison';
import { some, thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 4;

function motionOf(signal: Float64Array, f0Hz: number, bpm: number | null = 120) {
  const envelopes = measureEnvelopes(signal, RATE_HZ, f0Hz, { mostPartials: 24 });
  const [fromSeconds, toSeconds] = [0.1, SECONDS - 0.1];
  const unison = measureUnison(envelopes, fromSeconds, toSeconds).trait;
  const level = measureLevel([signal], RATE_HZ, f0Hz);
  const round = findRoundBrightness({ mono: signal, sampleRateHz: RATE_HZ, f0Hz }, fromSeconds, toSeconds);
  const known = { level, envelopes, unison, vibrato: undefined, round, bpm, onsetSeconds: 0, fromSeconds, toSeconds };
  return measureMotion(known).motion;
}

const late = (signal: Float64Array, middle: number, depth: number, rateHz: number, wet: number) =>
  withDelay(signal, (t) => middle + depth * Math.sin(2 * Math.PI * rateHz * t), wet);

const dry = (f0Hz: number) => voices({ f0Hz, seconds: SECONDS });
const filtered = (f0Hz: number, low: number, high: number, rateHz: number, slope: 12 | 24) =>
  voices({ f0Hz, seconds: SECONDS, amplitude: lowpassed(f0Hz, sweeping(low, high, rateHz), slope) });

/** Partials of a pulse: of a saw less a saw that is late by the width. */
const pulsing = (f0Hz: number, width: (seconds: number) => number) =>
  voices({ f0Hz, seconds: SECONDS, amplitude: (n, t) => Math.sin(Math.PI * n * width(t)) / n });

/** A notch of two poles and zeros (RBJ's cookbook, analogue prototype) that goes round over a saw. */
const notched = (f0Hz: number, low: number, high: number, rateHz: number) => {
  const at = sweeping(low, high, rateHz);
  const through = (n: number, t: number) => {
    const x = (n * f0Hz) / at(t);
    return Math.abs(1 - x * x) / Math.hypot(1 - x * x, x);
  };
  return voices({ f0Hz, seconds: SECONDS, amplitude: (n, t) => through(n, t) / n });
};

/** Lows that a gain moves by themselves, highs that stay: a split of 24 dB an octave. */
const duckedLows = (f0Hz: number, belowHz: number, gain: (seconds: number) => number) =>
  voices({
    f0Hz,
    seconds: SECONDS,
    amplitude: (n, t) => {
      const low = 1 / (1 + ((n * f0Hz) / belowHz) ** 4);
      return (low * gain(t) + 1 - low) / n;
    },
  });

type Case = [string, (f0Hz: number) => Float64Array, { cause: string; rateHz: number; depth: number }];
const cases: Case[] = [
  ['tremolo', (f0Hz) => times(dry(f0Hz), tremolo(5.3, 3)), { cause: 'tremolo', rateHz: 5.3, depth: 3 }],
  ['ducking', (f0Hz) => times(dry(f0Hz), ducking(2, 12)), { cause: 'ducking', rateHz: 2, depth: 12 }],
  [
    'a 24 dB low-pass',
    (f0Hz) => filtered(f0Hz, 500, 2500, 1.5, 24),
    { cause: 'filter', rateHz: 1.5, depth: Math.log2(5) },
  ],
  [
    'a 12 dB low-pass',
    (f0Hz) => filtered(f0Hz, 800, 1800, 3, 12),
    { cause: 'filter', rateHz: 3, depth: Math.log2(2.25) },
  ],
  [
    'a phaser of four stages',
    (f0Hz) => phaser(dry(f0Hz), sweeping(300, 2400, 0.7), 4),
    { cause: 'phaser', rateHz: 0.7, depth: 3 },
  ],
  [
    'a phaser of six stages',
    (f0Hz) => phaser(dry(f0Hz), sweeping(500, 2000, 1.1), 6),
    { cause: 'phaser', rateHz: 1.1, depth: 2 },
  ],
  ['a chorus', (f0Hz) => late(dry(f0Hz), 0.018, 0.003, 0.6, 0.7), { cause: 'chorus', rateHz: 0.6, depth: 6 }],
  [
    'the width of a pulse',
    (f0Hz) => pulsing(f0Hz, (t) => 0.3 + 0.13 * Math.sin(2 * Math.PI * 0.9 * t)),
    { cause: 'pulseWidth', rateHz: 0.9, depth: 26 },
  ],
  [
    'the width of a square',
    (f0Hz) => pulsing(f0Hz, (t) => 0.5 + 0.2 * Math.sin(2 * Math.PI * 1.6 * t)),
    { cause: 'pulseWidth', rateHz: 1.6, depth: 40 },
  ],
  [
    'a notch that goes round once',
    (f0Hz) => notched(f0Hz, 4 * f0Hz, 12 * f0Hz, 0.27),
    { cause: 'notch', rateHz: 0.27, depth: Math.log2(3) },
  ],
  [
    'a phaser that goes round once',
    (f0Hz) => phaser(dry(f0Hz), sweeping(2 * f0Hz, 8 * f0Hz, 0.3), 4),
    { cause: 'phaser', rateHz: 0.3, depth: 2 },
  ],
  ['ducking of lows', (f0Hz) => duckedLows(f0Hz, 5 * f0Hz, ducking(2, 12)), { cause: 'ducking', rateHz: 2, depth: 12 }],
  ['a flanger', (f0Hz) => late(dry(f0Hz), 0.003, 0.002, 0.5, 0.8), { cause: 'chorus', rateHz: 0.5, depth: 4 }],
];

describe('Movements', () => {
  some(1).describe.each([82.41, 440])('of a saw at %d Hz', (f0Hz) => {
    some(4).it.each(cases)('%s: its cause, rate within 2 %%, depth within 15 %%', (_, make, wanted) => {
      const [found, ...others] = motionOf(make(f0Hz), f0Hz);
      expect(others).toHaveLength(0);
      expect(found.cause).toBe(wanted.cause);
      expect(Math.abs(found.rateHz / wanted.rateHz - 1)).toBeLessThan(0.02);
      expect(Math.abs(found.depth / wanted.depth - 1)).toBeLessThan(0.15);
      expect(found.confidence).toBeGreaterThan(0.7);
    });

    some(1).it.each([7, 12, 20])('two voices %d cents apart beat', (apart) => {
      const [found] = motionOf(voices({ f0Hz, seconds: SECONDS, cents: [-apart / 2, apart / 2] }), f0Hz);
      expect(found.cause).toBe('beating');
      expect(found.rateHz).toBeCloseTo(f0Hz * (2 ** (apart / 1200) - 1), 1);
    });

    some(2).it.each<[string, Float64Array]>([
      ['a steady tone', dry(f0Hz)],
      ['a dying tone', times(dry(f0Hz), (t) => Math.exp(-t))],
      ['a decay to a sustain', times(dry(f0Hz), (t) => 0.3 + 0.7 * Math.exp(-3 * t))],
      [
        'a closing filter',
        voices({ f0Hz, seconds: SECONDS, amplitude: lowpassed(f0Hz, (t) => 300 + 4000 * Math.exp(-2 * t), 24) }),
      ],
      ['five voices', voices({ f0Hz, seconds: SECONDS, cents: [-14, -6, 0, 7, 15] })],
    ])('%s has none', (_, signal) => {
      expect(motionOf(signal, f0Hz)).toEqual([]);
    });
  });

  thorough.describe('of a sine, whose partials tell no cause', () => {
    const sine = () => voices({ f0Hz: 110, seconds: SECONDS, mostPartials: 1 });

    it('the level alone is told, and less surely', () => {
      const [found] = motionOf(times(sine(), tremolo(4, 8)), 110, null);
      expect(found).toMatchObject({ of: 'loudness', cause: 'tremolo', division: null });
      expect(found.rateHz).toBeCloseTo(4, 1);
      expect(found.confidence).toBeLessThan(0.7);
    });

    it('none is claimed when it stands still or dies', () => {
      expect(motionOf(sine(), 110)).toEqual([]);
      expect(
        motionOf(
          times(sine(), (t) => Math.exp(-t)),
          110,
        ),
      ).toEqual([]);
    });
  });

  some(1).it.each([
    [2, 120, '1/4'],
    [4.02, 120, '1/8'],
    [8 / 3, 120, '1/8.'],
    [3, 120, '1/4t'],
    [0.4, 96, '1 bar'],
    [2.3, 120, undefined],
  ])('%d Hz at %d BPM is %s', (rateHz, bpm, division) => {
    expect(divisionOf(rateHz, bpm)).toBe(division);
  });
});
