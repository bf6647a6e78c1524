import { createRandom } from '../../../test/signals';
import { fitSineSlide } from './sineSlide';

const RATE_HZ = 44100;

interface Sliding {
  hz: number;
  semitones: (seconds: number) => number;
  fallSeconds?: number;
  partials?: number;
  attackSeconds?: number;
}

/** A sine, or a saw, whose pitch and level fall, with a little noise. */
function tone({ hz, semitones, fallSeconds = 0.2, partials = 1, attackSeconds = 0.001 }: Sliding): Float64Array {
  const random = createRandom(2);
  let phase = 0;
  return Float64Array.from({ length: 0.5 * RATE_HZ }, (_, i) => {
    const t = i / RATE_HZ;
    phase += (2 * Math.PI * hz * 2 ** (semitones(t) / 12)) / RATE_HZ;
    let x = 0;
    for (let n = 1; n <= partials; n++) x += Math.sin(n * phase) / n;
    return Math.min(1, t / attackSeconds) * Math.exp(-t / fallSeconds) * x + 0.01 * (random() - 0.5);
  });
}

const falling = (st: number, tau: number) => (seconds: number) => st * Math.exp(-seconds / tau);

describe('A slide of one sine', () => {
  it.each([
    [55, 24, 0.008],
    [78, 12, 0.014],
    [165, 29, 0.008],
    [110, 6, 0.02],
    [220, -5, 0.015],
  ])('at %d Hz from %d st, with a time constant of %d s', (hz, semitones, tau) => {
    const found = fitSineSlide(tone({ hz, semitones: falling(semitones, tau) }), RATE_HZ, hz, 0)!;
    expect(Math.abs(found.semitones / semitones - 1)).toBeLessThan(0.1);
    // Told by the time until a tenth is left.
    expect(Math.abs(found.seconds / Math.LN10 / tau - 1)).toBeLessThan(0.1);
  });

  it.each([
    [37, 25, 0.0146, Math.tanh],
    [52, 19, 0.02, Math.tanh],
    [82, 12, 0.01, (x: number) => Math.max(-1, Math.min(1, x))],
  ] as const)('that a curve was over, at %d Hz from %d st', (hz, semitones, tau, curve) => {
    const bent = tone({ hz, semitones: falling(semitones, tau) }).map((x) => curve(4 * x));
    const found = fitSineSlide(bent, RATE_HZ, hz, 0, true)!;
    expect(Math.abs(found.semitones / semitones - 1)).toBeLessThan(0.1);
    expect(Math.abs(found.seconds / Math.LN10 / tau - 1)).toBeLessThan(0.1);
  });

  it('is not told of a still square', () => {
    const square = tone({ hz: 82, semitones: () => 0 }).map((x) => Math.tanh(20 * x));
    expect(fitSineSlide(square, RATE_HZ, 82, 0, true)).toBeUndefined();
  });

  it.each<[string, Sliding]>([
    ['a still sine', { hz: 110, semitones: () => 0 }],
    ['a still sine that rises slowly', { hz: 110, semitones: () => 0, fallSeconds: 9, attackSeconds: 0.02 }],
    ['vibrato', { hz: 110, semitones: (t) => 0.5 * Math.sin(2 * Math.PI * 5 * t) }],
    ['a saw', { hz: 110, semitones: falling(12, 0.01), partials: 30 }],
  ])('is not told of %s', (_, spec) => {
    expect(fitSineSlide(tone(spec), RATE_HZ, spec.hz, 0)).toBeUndefined();
  });
});
