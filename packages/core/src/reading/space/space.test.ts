import { times, tremolo, voices, withEchoes, withRoom } from '../../../test/effects';
import { fitContour } from '../level/fitContour';
import { measureLevel } from '../level/levelContour';
import { measureEnvelopes } from '../partials/partialEnvelopes';
import { measureSpace } from './space';
import { some, thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 4;

function spaceOf(signal: Float64Array, f0Hz: number, detuned = false) {
  const envelopes = measureEnvelopes(signal, RATE_HZ, f0Hz, { mostPartials: 24 });
  const level = measureLevel([signal], RATE_HZ, f0Hz);
  return measureSpace({ level, fitted: fitContour(level), envelopes, detuned, combed: false, bpm: 120 }).space;
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
  some(1).describe.each([82.41, 440])('behind a saw at %d Hz', (f0Hz) => {
    some(1).it.each([
      [0.4, -12],
      [0.8, -12],
      [1.5, -6],
      [3, -12],
    ])('a room of %d s, %d dB: RT60 within 10 %%', (rt60Seconds, wetDb) => {
      const signal = withRoom(held(f0Hz, 1), { rt60Seconds, wetDb, preDelaySeconds: 0.02 });
      const found = spaceOf(signal, f0Hz);
      expect(Math.abs(found.rt60Seconds! / rt60Seconds - 1)).toBeLessThan(0.1);
    });

    some(1).it.each([
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

    thorough.it('a room that is louder than the pluck before it: of its pre-delay nothing is told', () => {
      const found = spaceOf(withRoom(plucked(f0Hz, 20), { rt60Seconds: 1.5, wetDb: 0 }), f0Hz);
      expect(Math.abs(found.rt60Seconds! / 1.5 - 1)).toBeLessThan(0.1);
      expect(found.preDelaySeconds).toBeNull();
    });

    some(1).it.each([
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

    some(4).it.each<[string, () => Float64Array, boolean]>([
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

  it('is none of sines that die away each in a time of its own', () => {
    const sines = [
      [1, 1, 0.4],
      [2, 0.4, 0.12],
      [14, 0.15, 0.035],
    ];
    for (const f0Hz of [208, 311])
      for (const [end, release] of [
        [1, 0.02],
        [1.3, 0.05],
      ]) {
        const keys = Float64Array.from({ length: 1.5 * RATE_HZ }, (_, i) => {
          const t = i / RATE_HZ;
          const off = t < end ? 1 : Math.exp((end - t) / release);
          return (
            off *
            sines.reduce((sum, [n, a, tau]) => sum + a * Math.exp(-t / tau) * Math.sin(2 * Math.PI * n * f0Hz * t), 0)
          );
        });
        expect(spaceOf(keys, f0Hz).rt60Seconds).toBeNull();
      }
  });

  describe('behind tones as they are played', () => {
    /** Two saws apart by some cents, held or dying, with what repeats or answers them. */
    const pair = (f0Hz: number, length: number, releaseSeconds = 0.2) => held(f0Hz, length, releaseSeconds, [-5, 5]);

    some(1).it.each([
      ['a pair that beats', () => pair(220, 1.2), 0.357, -13, 0.32],
      ['an open note', () => held(330, 1.1, 0.08), 0.23, -10, 0.15],
      ['a slow release', () => held(165, 0.9, 0.35), 0.41, -8, 0.45],
    ] as const)('echoes of %s, held for longer than they need to come back', (_, make, seconds, db, feedback) => {
      const { echo } = spaceOf(withEchoes(make(), seconds, 10 ** (db / 20), feedback), 220, true);
      expect(Math.abs(echo!.seconds / seconds - 1)).toBeLessThan(0.03);
      expect(Math.abs(echo!.levelDb - db)).toBeLessThan(4);
      expect(Math.abs(echo!.feedback - feedback)).toBeLessThan(0.08);
    });

    it('two repeats and no more', () => {
      const tone = held(294, 1.3, 0.1);
      const [first, second] = [0.3, 0.1];
      const delay = Math.round(0.25 * RATE_HZ);
      const signal = tone.map((x, i) => x + first * (tone[i - delay] ?? 0) + second * (tone[i - 2 * delay] ?? 0));
      const { echo } = spaceOf(signal, 294);
      expect(Math.abs(echo!.seconds / 0.25 - 1)).toBeLessThan(0.03);
      expect(Math.abs(echo!.levelDb - 20 * Math.log10(first))).toBeLessThan(3);
    });

    thorough.it('repeats from one side and the other, and of one side', () => {
      const tone = held(247, 0.8, 0.1);
      const [near, far] = [0, 1].map((side) => {
        const wet = withEchoes(tone, 0.6, 0.4, 0.16).map((x, i) => x - tone[i]);
        const later = Math.round(side * 0.3 * RATE_HZ);
        return tone.map((x, i) => x + (side ? 0.4 : 1) * (wet[i + Math.round(0.3 * RATE_HZ) - later] ?? 0));
      });
      const changes = (left: Float64Array, right: Float64Array) => {
        const level = measureLevel([left, right], RATE_HZ, 247);
        const envelopes = measureEnvelopes(tone, RATE_HZ, 247, { mostPartials: 12 });
        const ringing = { level, fitted: fitContour(level), envelopes, detuned: false, combed: false, bpm: null };
        return measureSpace(ringing).space.echo?.changesSides;
      };
      expect(changes(near, far)).toBe(true);
      const both = withEchoes(tone, 0.3, 0.4, 0.4);
      expect(changes(both, both)).toBe(false);
    });

    thorough.it('the level without repeats ends where the tone is let go', () => {
      const signal = withEchoes(held(220, 0.9, 0.1), 0.3, 0.3, 0.4);
      const level = measureLevel([signal], RATE_HZ, 220);
      const envelopes = measureEnvelopes(signal, RATE_HZ, 220, { mostPartials: 24 });
      const ringing = { level, fitted: fitContour(level), envelopes, detuned: false, combed: false, bpm: null };
      const { noteOffSeconds, releaseSeconds } = fitContour(measureSpace(ringing).withoutRepeats!);
      expect(Math.abs(noteOffSeconds! - 0.9)).toBeLessThan(0.04);
      expect(releaseSeconds!).toBeLessThan(0.25);
      expect(fitContour(level).releaseSeconds!).toBeGreaterThan(0.5);
    });

    some(1).it.each([
      [110, 1.1, 1.5, -10],
      [220, 0.8, 2.4, -11],
      [330, 1.4, 0.9, -14],
    ])('a room behind a pair of %d Hz that beats: RT60 within 20 %%', (f0Hz, length, rt60Seconds, wetDb) => {
      const found = spaceOf(withRoom(pair(f0Hz, length), { rt60Seconds, wetDb }), f0Hz, true);
      expect(Math.abs(found.rt60Seconds! / rt60Seconds - 1)).toBeLessThan(0.2);
    });

    thorough.it('a room of few partials, whose sum comes and goes', () => {
      const organ = [1, 2, 3, 6].reduce<Float64Array>(
        (sum, n, k) => {
          const envelope = times(
            Float64Array.from({ length: SECONDS * RATE_HZ }, (_, i) =>
              Math.sin((2 * Math.PI * n * 196 * i) / RATE_HZ + k),
            ),
            (t) => Math.min(1, t / 0.006) * (t < 1.2 ? 1 : 10 ** ((-3 * (t - 1.2)) / 0.1)) * [1, 0.6, 0.4, 0.2][k],
          );
          return sum.map((x, i) => x + envelope[i]);
        },
        new Float64Array(SECONDS * RATE_HZ),
      );
      const { rt60Seconds } = spaceOf(withRoom(organ, { rt60Seconds: 1.2, wetDb: -8 }), 196);
      expect(Math.abs(rt60Seconds! / 1.2 - 1)).toBeLessThan(0.2);
    });

    some(2).it.each<[string, () => Float64Array, boolean]>([
      ['a pair that beats', () => pair(220, 1.2, 0.5), true],
      [
        'a tone that falls and then stays',
        () => times(held(220, 1, 0.15), (t) => 0.5 + 0.5 * Math.exp(-t / 0.12)),
        false,
      ],
      ['a tone that is held, and a long release', () => pair(147, 0.9, 0.9), true],
    ])('nothing behind %s', (_, make, detuned) => {
      expect(spaceOf(make(), 220, detuned)).toMatchObject({ rt60Seconds: null, echo: null });
    });
  });
});
