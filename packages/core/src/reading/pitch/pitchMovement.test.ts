import { tone, twoPole } from '../../../test/made/parts';
import { createRandom } from '../../../test/signals';
import { trackFinePitch } from './finePitch';
import { findSweep, findVibrato } from './pitchMovement';
import { trackPitch } from './pitchTrack';

const RATE = 44100;

interface Moving {
  f0Hz?: number;
  seconds?: number;
  /** Deviation in cents at a time. */
  cents: (seconds: number) => number;
  partials?: number;
}

/**
 * A tone of falling partials whose pitch moves by a formula: its phase is the running sum of its frequency.
 */
function movingTone({ f0Hz = 220, seconds = 2, cents, partials = 12 }: Moving): Float64Array {
  const random = createRandom(3);
  let cycles = 0;
  return Float64Array.from({ length: seconds * RATE }, (_, i) => {
    let x = 0;
    for (let n = 1; n <= partials; n++) x += Math.sin(2 * Math.PI * n * cycles) / n;
    cycles += (f0Hz * 2 ** (cents(i / RATE) / 1200)) / RATE;
    return 0.3 * x * Math.min(1, (i / RATE) * 200) + 0.0003 * (random() - 0.5);
  });
}

function fineOf(tone: Moving) {
  const signal = movingTone(tone);
  return trackFinePitch(signal, RATE, trackPitch(signal, RATE), tone.f0Hz ?? 220);
}

const turning = (rateHz: number, depth: number) => (t: number) => depth * Math.sin(2 * Math.PI * rateHz * t + 1);

describe('Vibrato', () => {
  const cases = [
    { f0Hz: 110, rateHz: 5, depth: 20 },
    { f0Hz: 220, rateHz: 6.3, depth: 40 },
    { f0Hz: 440, rateHz: 4.2, depth: 80 },
    { f0Hz: 880, rateHz: 7.5, depth: 10 },
    { f0Hz: 65, rateHz: 5.5, depth: 50 },
    { f0Hz: 220, rateHz: 3, depth: 150 },
    // Deeper than a step of the phase of a high partial tells.
    { f0Hz: 900, rateHz: 4, depth: 110 },
  ];
  it.each(cases)(
    'of $rateHz Hz and $depth cents at $f0Hz Hz: rate within 2 %, depth within 15 %',
    ({ f0Hz, rateHz, depth }) => {
      const found = findVibrato(fineOf({ f0Hz, cents: turning(rateHz, depth) }))!;
      expect(Math.abs(found.rateHz / rateHz - 1)).toBeLessThan(0.02);
      expect(Math.abs(found.depth / depth - 1)).toBeLessThan(0.15);
      expect(found.onsetSeconds).toBe(0);
      expect(found.shape).toBe('sine');
    },
  );

  it.each([
    [52, 3.1],
    [65, 5],
    [98, 2.6],
  ])('is not what a filter that goes round does to the phases of partials (%d Hz, %d a second)', (hz, rate) => {
    const filtered = twoPole(
      tone({ seconds: 2, hz }),
      'low',
      (t) => 250 * 2 ** (1.5 - 1.5 * Math.cos(2 * Math.PI * rate * t)),
      2.5,
    );
    expect(findVibrato(trackFinePitch(filtered, RATE, trackPitch(filtered, RATE), hz))).toBeUndefined();
  });

  it('stays one through a filter that falls', () => {
    const filtered = twoPole(
      tone({ seconds: 2, hz: 110, semitones: (t) => 0.2 * Math.sin(2 * Math.PI * 5.2 * t) }),
      'low',
      (t) => 300 + 2500 * Math.exp(-2 * t),
      2.5,
    );
    const found = findVibrato(trackFinePitch(filtered, RATE, trackPitch(filtered, RATE), 110))!;
    expect(Math.abs(found.rateHz / 5.2 - 1)).toBeLessThan(0.02);
    expect(Math.abs(found.depth / 20 - 1)).toBeLessThan(0.15);
    expect(found.agreement).toBeGreaterThan(0.99);
  });

  it('that begins later: when it has come to half its depth', () => {
    const grown = (t: number) => Math.min(1, Math.max(0, (t - 0.6) / 0.4));
    const found = findVibrato(fineOf({ seconds: 2.5, cents: (t) => grown(t) * turning(5.5, 30)(t) }))!;
    expect(Math.abs(found.onsetSeconds - 0.8)).toBeLessThan(0.1);
    expect(Math.abs(found.rateHz / 5.5 - 1)).toBeLessThan(0.02);
    expect(Math.abs(found.depth / 30 - 1)).toBeLessThan(0.15);
  });

  it('is not claimed of a steady tone, of a slow drift, of two beating voices', () => {
    expect(findVibrato(fineOf({ cents: () => 0 }))).toBeUndefined();
    expect(findVibrato(fineOf({ cents: (t) => 20 * t * t }))).toBeUndefined();
    const [a, b] = [0, 12].map((cents) => movingTone({ cents: () => cents }));
    const signal = a.map((x, i) => 0.5 * (x + b[i]));
    expect(findVibrato(trackFinePitch(signal, RATE, trackPitch(signal, RATE), 220.7))).toBeUndefined();
  });
});

describe('A sweep at the onset', () => {
  it.each([
    [1 / 2, 'an octave lower'],
    [2, 'an octave higher'],
    [1 / 3, 'a twelfth lower'],
  ])('is not told where the track leaps from %f times the pitch, %s, and nothing slides', (times) => {
    const signal = movingTone({ cents: () => 0 });
    const track = trackPitch(signal, RATE);
    const leaping = { ...track, f0Hz: track.f0Hz.map((hz, i) => (track.seconds[i] < 0.5 ? times * hz : hz)) };
    const fine = trackFinePitch(signal, RATE, leaping, 220);
    expect(Math.max(...fine.cents.filter(Number.isFinite).map(Math.abs))).toBeLessThan(10);
    expect(findSweep(fine, 0)).toBeUndefined();
  });

  it.each([
    { semitones: 12, tau: 0.02, f0Hz: 110 },
    { semitones: 24, tau: 0.03, f0Hz: 110 },
    { semitones: 24, tau: 0.01, f0Hz: 220 },
    { semitones: 7, tau: 0.05, f0Hz: 220 },
    { semitones: -5, tau: 0.04, f0Hz: 440 },
    { semitones: 2, tau: 0.1, f0Hz: 220 },
  ])('of $semitones semitones with a time constant of $tau s at $f0Hz Hz', ({ semitones, tau, f0Hz }) => {
    const found = findSweep(fineOf({ f0Hz, cents: (t) => 100 * semitones * Math.exp(-t / tau) }), 0)!;
    expect(Math.abs(found.semitones - semitones)).toBeLessThan(0.25 * Math.abs(semitones) + 0.3);
    expect(Math.abs(found.seconds / (tau * Math.log(10)) - 1)).toBeLessThan(0.3);
  });

  it('is not claimed of a steady tone, nor of vibrato', () => {
    expect(findSweep(fineOf({ cents: () => 0 }), 0)).toBeUndefined();
    expect(findSweep(fineOf({ cents: turning(5, 40) }), 0)).toBeUndefined();
  });
});
