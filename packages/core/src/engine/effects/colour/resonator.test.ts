import { CHAIN_RATE_HZ, chainWithin, click, effect, responseDb } from '../../../../test/chains';
import { amplitudeAt, decibels } from '../../../../test/signals';

describe('The resonator', () => {
  it.each([
    [110, 0, false],
    [220, 50, false],
    [440, 70, false],
    [220, 30, true],
  ])('rings at the note, %d Hz, damped by %d %%, hollow: %s', (noteHz, damping, hollow) => {
    const around = { noteHz, layer: () => undefined };
    const fields = { decaySeconds: 1, damping, hollow };
    const [out] = chainWithin(around, effect('resonator', fields)).run(click(2));
    const at = (cents: number) => responseDb(out.subarray(4800), noteHz * 2 ** (cents / 1200));
    expect(at(0)).toBeGreaterThan(at(8));
    expect(at(0)).toBeGreaterThan(at(-8));
    expect(responseDb(out, 2 * noteHz) < responseDb(out, noteHz) - 20).toBe(hollow);
  });

  it.each([0.3, 1, 3])('falls by 60 dB in %d s', (decaySeconds) => {
    const around = { noteHz: 220, layer: () => undefined };
    const [out] = chainWithin(around, effect('resonator', { decaySeconds, damping: 0 })).run(click(2));
    // Of the pitch itself: its partials fall sooner, since reading between samples weakens them a little
    // every round.
    const levelAfter = (seconds: number) => {
      const from = Math.round(seconds * CHAIN_RATE_HZ);
      return decibels(amplitudeAt(Float32Array.from(out.subarray(from, from + 4800)), CHAIN_RATE_HZ, 220));
    };
    const fall = levelAfter(0.1) - levelAfter(0.25);
    expect((60 * 0.15) / fall / decaySeconds).toBeCloseTo(1, 1);
  });
});
