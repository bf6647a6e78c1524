import { biquadDb, cookbookBiquad } from '../../../test/cookbook';
import { DECAY_TAUS } from '../../patch/envelopeCurve';
import type { PartialFrames } from '../../reading/partials/partialFrames';
import { type Resonance, fitResonances } from './formantFit';
import { thorough } from '../../../test/thorough';

const F0_HZ = 98;
const COUNT = 40;
const FRAMES = 60;
const SECONDS = 1.2;
/** High enough for the digital filter to be as the analogue one. */
const RATE_HZ = 192000;

/** Partials of a saw through peaks of the cookbook that are so far on their way at a time. */
function saws(peaks: readonly Resonance[], along: (seconds: number) => number): PartialFrames {
  const seconds = Float64Array.from({ length: FRAMES }, (_, t) => (t * SECONDS) / FRAMES);
  const amplitudes = new Float64Array(FRAMES * COUNT);
  seconds.forEach((at, t) => {
    const bells = peaks.map(({ fromHz, toHz, db, q }) =>
      cookbookBiquad('peak', { hz: fromHz * (toHz / fromHz) ** along(at), q, gainDb: db, sampleRateHz: RATE_HZ }),
    );
    for (let n = 1; n <= COUNT; n++) {
      const db = bells.reduce((sum, bell) => sum + biquadDb(bell, n * F0_HZ, RATE_HZ), 0);
      amplitudes[t * COUNT + n - 1] = (0.1 / n) * 10 ** (db / 20);
    }
  });
  const phases = new Float64Array(FRAMES * COUNT);
  return { seconds, f0Hz: F0_HZ, periods: 4, count: COUNT, amplitudes, phases, between: phases };
}

const made: Resonance[] = [
  { fromHz: 320, toHz: 720, db: 16, q: 5 },
  { fromHz: 2100, toHz: 1150, db: 14, q: 6 },
];
/** As peaks are seen in stretches of a note. */
const seen: Resonance[] = [
  { fromHz: 360, toHz: 680, db: 12, q: 5 },
  { fromHz: 1950, toHz: 1230, db: 12, q: 5 },
];

describe('Resonances of a saw', () => {
  it.each([
    ['go evenly and stay', false, 0.8, (t: number) => Math.min(1, t / 0.8)],
    ['settle', true, 0.35 * DECAY_TAUS, (t: number) => 1 - Math.exp(-t / 0.35)],
  ] as const)('are told when they %s', (_, settles, waySeconds, along) => {
    const found = fitResonances(saws(made, along), 0, seen, SECONDS);
    expect(found.settles).toBe(settles);
    expect(Math.abs(Math.log2(found.waySeconds / waySeconds))).toBeLessThan(0.2);
    expect(found.errorDb).toBeLessThan(0.6);
    expect(found.peaks).toHaveLength(made.length);
    found.peaks.forEach((peak, i) => {
      expect(Math.abs(Math.log2(peak.fromHz / made[i].fromHz))).toBeLessThan(1 / 24);
      expect(Math.abs(Math.log2(peak.toHz / made[i].toHz))).toBeLessThan(1 / 12);
      expect(Math.abs(peak.db - made[i].db)).toBeLessThan(1.5);
    });
  });

  thorough.it('have a body beside them where there is one, which stays', () => {
    const body = { fromHz: 120, toHz: 120, db: 15, q: 0.8 };
    const { peaks, errorDb } = fitResonances(
      saws([...made, body], (t) => Math.min(1, t / 0.8)),
      0,
      seen,
      SECONDS,
    );
    expect(errorDb).toBeLessThan(1);
    expect(peaks).toHaveLength(3);
    expect(peaks[2].fromHz).toBe(peaks[2].toHz);
    expect(Math.abs(Math.log2(peaks[2].fromHz / body.fromHz))).toBeLessThan(0.3);
  });
});
