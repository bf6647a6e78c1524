import { times, tremolo, voices, withEchoes, withRoom } from '../../../test/effects';
import { fitContour } from '../level/fitContour';
import { measureLevel } from '../level/levelContour';
import { measureEnvelopes } from '../partials/partialEnvelopes';
import { measureSpace } from './space';

const RATE_HZ = 44100;
const SECONDS = 4;

function spaceOf(signal: Float64Array, f0Hz: number, detuned = false) {
  const envelopes = measureEnvelopes(signal, RATE_HZ, f0Hz, { mostPartials: 24 });
  const level = measureLevel([signal], RATE_HZ, f0Hz);
  return measureSpace({ level, fitted: fitContour(level), envelopes, detuned, bpm: 120 });
}

const saw = (f0Hz: number, cents?: number[]) => voices({ f0Hz, seconds: SECONDS, cents });
/** A saw that is held and let go, or plucked. */
const held = (f0Hz: number, seconds: number, releaseSeconds = 0.1, cents?: number[]) =>
  times(
    saw(f0Hz, cents),
    (t) => Math.min(1, t / 0.005) * (t < seconds ? 1 : 10 ** ((-3 * (t - seconds)) / releaseSeconds)),
  );
const plucked = (f0Hz: number, rate = 6) => times(saw(f0Hz), (t) => Math.exp(-rate * t));

describe('Space', () => {
  describe.each([82.41, 440])('behind a saw at %d Hz', (f0Hz) => {
    it.each([
      [0.4, -12],
      [0.8, -12],
      [1.5, -6],
      [3, -12],
    ])('a room of %d s, %d dB: RT60 within 10 %%', (rt60Seconds, wetDb) => {
      const signal = withRoom(held(f0Hz, 1), { rt60Seconds, wetDb, preDelaySeconds: 0.02 });
      const found = spaceOf(signal, f0Hz);
      expect(Math.abs(found.rt60Seconds! / rt60Seconds - 1)).toBeLessThan(0.1);
    });

    it.each([
      [0.03, 0.8, -8],
      [0.06, 1.5, -12],
      [0.12, 3, -12],
    ])('a room that begins %d s behind it: within 10 ms', (preDelaySeconds, rt60Seconds, wetDb) => {
      const { preDelaySeconds: found } = spaceOf(
        withRoom(held(f0Hz, 1), { rt60Seconds, wetDb, preDelaySeconds }),
        f0Hz,
      );
      expect(Math.abs(found! - preDelaySeconds)).toBeLessThan(0.01);
    });

    it('a room at once: no pre-delay is told', () => {
      const { rt60Seconds, preDelaySeconds } = spaceOf(withRoom(held(f0Hz, 1), { rt60Seconds: 1.5, wetDb: -8 }), f0Hz);
      expect(rt60Seconds).not.toBeNull();
      expect(preDelaySeconds).toBeNull();
    });

    it('a room behind a pluck, whose own decay is no room', () => {
      const found = spaceOf(withRoom(plucked(f0Hz), { rt60Seconds: 2, wetDb: -12 }), f0Hz);
      expect(Math.abs(found.rt60Seconds! / 2 - 1)).toBeLessThan(0.1);
    });

    it.each([
      [0.375, 0.5, 0.2, '1/8.'],
      [0.5, 0.3, 0.3, '1/4'],
      [0.3, 0.5, 1, null],
      [0.18, 0.5, 0.1, null],
    ])('echoes of %d s, feedback %d, after %d s: time within 2 %%', (seconds, feedback, length, division) => {
      const { echo, rt60Seconds } = spaceOf(withEchoes(held(f0Hz, length), seconds, 0.6, feedback), f0Hz);
      expect(Math.abs(echo!.seconds / seconds - 1)).toBeLessThan(0.02);
      expect(echo!.division).toBe(division);
      expect(Math.abs(echo!.feedback - feedback)).toBeLessThan(0.13);
      expect(rt60Seconds).toBeNull();
    });

    it('echoes of a pluck, with their feedback', () => {
      const { echo } = spaceOf(withEchoes(plucked(f0Hz, 10), 0.25, 0.5, 0.4), f0Hz);
      expect(echo!.seconds).toBeCloseTo(0.25, 2);
      expect(echo!.feedback).toBeCloseTo(0.4, 1);
    });

    it.each<[string, () => Float64Array, boolean]>([
      ['a held tone', () => saw(f0Hz), false],
      ['a short release', () => held(f0Hz, 1, 0.05), false],
      ['a long release', () => held(f0Hz, 1, 1.5), false],
      ['a pluck', () => plucked(f0Hz), false],
      ['a tremolo that dies', () => times(plucked(f0Hz, 2), tremolo(4, 8)), false],
      ['two voices with a release', () => held(f0Hz, 1, 0.5, [-6, 6]), true],
    ])('%s has none', (_, make, detuned) => {
      expect(spaceOf(make(), f0Hz, detuned)).toMatchObject({ rt60Seconds: null, echo: null });
    });
  });
});
