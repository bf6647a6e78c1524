import { sourcePatch } from '../../../test/patches';
import { amplitudeAt, decibels, rms } from '../../../test/signals';
import { aliasDb } from '../../../test/spectrum';
import type { Patch } from '../../patch/schema';
import { interactionSchema } from '../../patch/schemas/sourceSchema';
import { renderPatch } from '../render';

const RATE = 44100;
const NOTE = 57;
const NOTE_HZ = 220;

function held(patch: Patch, midi = NOTE): Float32Array {
  const notes = [{ onsetSeconds: 0, durationSeconds: 60, midi, velocity: 100 }];
  return renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 1 })[0];
}

const silent = { levelDb: -96 };

/** A carrier and a modulator at a ratio, the modulator itself not heard. */
function pair(
  kind: 'fm' | 'ring',
  amount: Record<string, number>,
  { ratio = 1, shape = 'sine', fields = {} }: { ratio?: number; shape?: string; fields?: Record<string, unknown> } = {},
): Patch {
  const patch = sourcePatch(
    { kind: 'shape', shape, ...fields },
    { kind: 'shape', shape: 'sine', tuning: 'ratio', ratio, ...silent },
  );
  patch.layers[0].interactions = [
    interactionSchema.parse({ kind, id: 'between', from: 'source-2', to: 'source-1', ...amount }),
  ];
  return patch;
}

describe('FM', () => {
  // J_n(β): Abramowitz & Stegun, table 9.1; sidebands at fc ± n·fm: Chowning 1973. A ratio of √2 keeps them
  // apart.
  it.each([
    [1, [0.76519769, 0.44005059, 0.11490348, 0.01956335]],
    [2.405, [0, 0.5190907, 0.4317, 0.199]],
    [1.841, [0.3158, 0.5819, 0.3158]],
    [5, [-0.17759677, -0.32757914, 0.04656512, 0.36483123, 0.39123236]],
  ])('of index %f has sidebands at the Bessel values, within 0.1 dB', (index, bessels) => {
    const signal = held(pair('fm', { index }, { ratio: Math.SQRT2 }));
    bessels.forEach((expected, n) => {
      const heard = amplitudeAt(signal, RATE, NOTE_HZ * (1 + n * Math.SQRT2));
      if (expected === 0) expect(decibels(heard)).toBeLessThan(-60);
      else if (Math.abs(expected) > 0.1) expect(Math.abs(decibels(heard / Math.abs(expected)))).toBeLessThan(0.1);
      else expect(heard).toBeCloseTo(Math.abs(expected), 3);
    });
  });

  it('of index 10 at 220 Hz aliases at least 60 dB under its strongest line', () => {
    for (const ratio of [1, 2, 7]) {
      expect(aliasDb(held(pair('fm', { index: 10 }, { ratio })), NOTE_HZ, RATE, 'strongest')).toBeLessThan(-60);
    }
  });

  it('on a saw, and of index 10 at 1.76 kHz, aliases at least 60 dB under, at four times the rate', () => {
    const onSaw = held(pair('fm', { index: 3 }, { shape: 'saw' }));
    expect(aliasDb(onSaw, NOTE_HZ, RATE, 'strongest')).toBeLessThan(-60);
    expect(aliasDb(held(pair('fm', { index: 10 }), 93), 8 * NOTE_HZ, RATE, 'strongest')).toBeLessThan(-60);
  });

  it('goes through zero: with an index that carries the pitch below 0 Hz, the mean pitch stays', () => {
    const signal = held(pair('fm', { index: 8 }, { ratio: Math.SQRT2 }));
    // J8(8) = 0.22345: the line at |fc − 8·fm| is there as strongly as the one at fc + 8·fm.
    const below = amplitudeAt(signal, RATE, Math.abs(NOTE_HZ * (1 - 8 * Math.SQRT2)));
    expect(below).toBeCloseTo(0.22345, 2);
  });

  it('feedback turns a sine towards a saw, with falling partials and no hunting', () => {
    const patch = sourcePatch({ kind: 'shape', shape: 'sine' });
    patch.layers[0].interactions = [
      interactionSchema.parse({ kind: 'fm', id: 'loop', from: 'source-1', to: 'source-1', index: 1 }),
    ];
    const signal = held(patch);
    const levels = [1, 2, 3, 4].map((n) => decibels(amplitudeAt(signal, RATE, n * NOTE_HZ)));
    // sin(ωt + β·y) has partials 2·J_n(nβ)/(nβ) (Tomisawa 1981, US patent 4249447, expired): −5.0 and −9.1 dB
    // for β = 1.
    expect(levels[1] - levels[0]).toBeCloseTo(-7.92, 0);
    expect(levels[2] - levels[1]).toBeLessThan(-2);
    expect(aliasDb(signal, NOTE_HZ, RATE)).toBeLessThan(-60);
  });

  it('works both ways round at once, the same at every render', () => {
    const patch = pair('fm', { index: 2 });
    patch.layers[0].interactions.push(
      interactionSchema.parse({ kind: 'fm', id: 'back', from: 'source-1', to: 'source-2', index: 1 }),
    );
    const once = held(patch);
    expect(once.every(Number.isFinite)).toBe(true);
    expect(held(patch)).toEqual(once);
  });

  it('does not depend on how loud the modulator is, only on the index', () => {
    const loud = pair('fm', { index: 2 }, { ratio: Math.SQRT2 });
    loud.layers[0].sources[1].levelDb = -20;
    const difference = amplitudeAt(held(loud), RATE, NOTE_HZ * (1 + Math.SQRT2));
    expect(difference).toBeCloseTo(
      amplitudeAt(held(pair('fm', { index: 2 }, { ratio: Math.SQRT2 })), RATE, NOTE_HZ * (1 + Math.SQRT2)),
      4,
    );
  });
});

describe('Ring modulation', () => {
  it('gives sum and difference at half the level, and no carrier (trigonometry)', () => {
    const signal = held(pair('ring', { depth: 100 }, { ratio: 2.5 }));
    expect(amplitudeAt(signal, RATE, 1.5 * NOTE_HZ)).toBeCloseTo(0.5, 2);
    expect(amplitudeAt(signal, RATE, 3.5 * NOTE_HZ)).toBeCloseTo(0.5, 2);
    expect(decibels(amplitudeAt(signal, RATE, NOTE_HZ))).toBeLessThan(-60);
  });

  it('at half depth leaves half of the carrier', () => {
    const signal = held(pair('ring', { depth: 50 }, { ratio: 2.5 }));
    expect(amplitudeAt(signal, RATE, NOTE_HZ)).toBeCloseTo(0.5, 2);
    expect(amplitudeAt(signal, RATE, 3.5 * NOTE_HZ)).toBeCloseTo(0.25, 2);
  });

  it.each([
    ['fixed', { toneHz: 50 }, 50],
    ['ratio', { toneRatio: 1.5 }, 1.5 * NOTE_HZ],
  ])('with a tone of a %s frequency', (tuning, fields, toneHz) => {
    const patch = sourcePatch({ kind: 'shape', shape: 'sine' });
    patch.layers[0].interactions = [
      interactionSchema.parse({ kind: 'ringTone', id: 'tone', to: 'source-1', tuning, ...fields }),
    ];
    const signal = held(patch);
    expect(amplitudeAt(signal, RATE, NOTE_HZ + toneHz)).toBeCloseTo(0.5, 2);
    expect(amplitudeAt(signal, RATE, Math.abs(NOTE_HZ - toneHz))).toBeCloseTo(0.5, 2);
  });

  it('of noise by a sine leaves the noise’s level 3 dB lower', () => {
    const noise = { kind: 'noise' };
    const plain = held(sourcePatch(noise));
    const patch = sourcePatch(noise, { kind: 'shape', shape: 'sine', ...silent });
    patch.layers[0].interactions = [
      interactionSchema.parse({ kind: 'ring', id: 'ring', from: 'source-2', to: 'source-1' }),
    ];
    expect(decibels(rms(held(patch)) / rms(plain))).toBeCloseTo(-3, 0);
  });
});
