import { times, voices, withRoom } from '../../../test/effects';
import { fitContour } from '../level/fitContour';
import { measureLevel } from '../level/levelContour';
import { measureEnvelopes } from '../partials/partialEnvelopes';
import { findRoom } from './room';
import { STEP_SECONDS, levelsInSteps, tailStarts } from './tail';
import { withoutRoom } from './withoutRoom';
import { some, thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const RELEASE_SECONDS = 0.15;

const saw = (f0Hz: number) => voices({ f0Hz, seconds: 4 });
/** A saw that falls to a share of its level and is let go after a second. */
const letGo = (f0Hz: number, sustain: number) =>
  times(
    saw(f0Hz),
    (t) =>
      Math.min(1, t / 0.01) *
      (sustain + (1 - sustain) * Math.exp(-t / 0.15)) *
      (t < 1 ? 1 : 10 ** ((-3 * (t - 1)) / RELEASE_SECONDS)),
  );
const plucked = (f0Hz: number) => times(saw(f0Hz), (t) => Math.min(1, t / 0.002) * Math.exp(-16 * t));

function dryOf(signal: Float64Array, f0Hz: number) {
  const level = measureLevel([signal], RATE_HZ, f0Hz);
  const ends = tailStarts(levelsInSteps(level)).map((step) => step * STEP_SECONDS);
  const envelopes = measureEnvelopes(signal, RATE_HZ, f0Hz, { mostPartials: 24 });
  return withoutRoom(level, findRoom(envelopes, 0, ends, 'steady')!);
}

some(1).describe.each([110, 440])('A saw at %d Hz without its room', (f0Hz) => {
  it.each([
    [1, -10],
    [2, -4],
    [3, 0],
  ])('of %d s, %d dB, is let go when it was, and falls as it did', (rt60Seconds, wetDb) => {
    const { level } = dryOf(withRoom(letGo(f0Hz, 1), { rt60Seconds, wetDb }), f0Hz);
    const { sustainDb, noteOffSeconds, releaseSeconds } = fitContour(level);
    expect(sustainDb).toBe(0);
    expect(Math.abs(noteOffSeconds! - 1)).toBeLessThan(0.02);
    expect(Math.abs(releaseSeconds! - RELEASE_SECONDS)).toBeLessThan(0.1);
  });

  it('falls to the level that it fell to, also where its room fills that up', () => {
    const { sustainDb, noteOffSeconds } = fitContour(
      dryOf(withRoom(letGo(f0Hz, 0.4), { rt60Seconds: 1, wetDb: -10 }), f0Hz).level,
    );
    expect(Math.abs(sustainDb - 20 * Math.log10(0.4))).toBeLessThan(2.5);
    expect(Math.abs(noteOffSeconds! - 1)).toBeLessThan(0.02);
  });

  thorough.it('is told how loud that is, by several rooms within 3 dB', () => {
    const seeds = [1, 2, 3, 4, 5, 6];
    const told = seeds.map((seed) => dryOf(withRoom(letGo(f0Hz, 1), { rt60Seconds: 2, wetDb: -6, seed }), f0Hz).roomDb);
    const middle = told.reduce((sum, db) => sum + db, 0) / seeds.length;
    expect(Math.abs(middle + 6)).toBeLessThan(3);
  });

  it('has died away, a pluck, when its room goes on', () => {
    const heard = withRoom(plucked(f0Hz), { rt60Seconds: 2, wetDb: -4 });
    const levels = [dryOf(heard, f0Hz).level, measureLevel([heard], RATE_HZ, f0Hz)];
    const fallDb = levels.map(({ rms, hopSeconds }) => {
      const at = (seconds: number) => rms[Math.round(seconds / hopSeconds)];
      return 20 * Math.log10(at(0.6) / at(0.02));
    });
    expect(fallDb[1]).toBeGreaterThan(-30);
    expect(fallDb[0]).toBeLessThan(fallDb[1] - 8);
  });
});
