import { lowpassed, times, voices } from '../../../test/effects';
import { createRandom } from '../../../test/signals';
import { measureDirt } from './dirt';
import { some } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 1.5;

const dirtOf = (samples: Float64Array, f0Hz: number, partialsDb = [0, -6, -9.5]) =>
  measureDirt({
    samples: Float32Array.from(samples),
    sampleRateHz: RATE_HZ,
    f0Hz,
    fromSeconds: 0.01,
    toSeconds: SECONDS - 0.1,
    partialsDb,
  });

const saw = (f0Hz: number) => voices({ f0Hz, seconds: SECONDS });
const sine = (f0Hz: number) => voices({ f0Hz, seconds: SECONDS, mostPartials: 1 }).map((x) => 4 * x);
const dying = (signal: Float64Array) => times(signal, (t) => Math.exp(-4 * t));
const dark = (f0Hz: number) => voices({ f0Hz, seconds: SECONDS, amplitude: (n) => 3 / n ** 1.5 });

const heldAt = (signal: Float64Array, hz: number) =>
  signal.map((_, i) => signal[Math.floor((Math.floor((i * hz) / RATE_HZ) * RATE_HZ) / hz)]);
const withBits = (signal: Float64Array, bits: number) =>
  signal.map((x) => Math.round(x * 2 ** (bits - 1)) / 2 ** (bits - 1));

some(1).describe.each([55, 220.3, 441])('Dirt of a tone at %d Hz', (f0Hz) => {
  it.each([4, 6, 8, 10, 12])('%d bits, exactly', (bits) => {
    expect(dirtOf(withBits(saw(f0Hz), bits), f0Hz)).toMatchObject({ kind: 'crush', bits, holdHz: null });
    expect(dirtOf(withBits(sine(f0Hz), bits), f0Hz)).toMatchObject({ kind: 'crush', bits });
  });

  it.each([5, 7, 9])('%d bits under noise, and at any gain', (bits) => {
    const random = createRandom(bits);
    const noisy = (gain: number) => withBits(saw(f0Hz), bits).map((x) => gain * x + 2e-4 * (random() - 0.5));
    expect(dirtOf(noisy(1), f0Hz)).toMatchObject({ kind: 'crush', bits });
    expect(dirtOf(noisy(0.7), f0Hz).kind).toBe('crush');
    expect(
      dirtOf(
        saw(f0Hz).map((x) => x + 2e-4 * (random() - 0.5)),
        f0Hz,
      ).kind,
    ).not.toBe('crush');
    // The two values of a square are no grid.
    const square = Float64Array.from({ length: SECONDS * RATE_HZ }, (_, i) =>
      ((i * f0Hz) / RATE_HZ) % 1 < 0.5 ? 0.4 : -0.4,
    );
    expect(
      dirtOf(
        square.map((x) => x + 2e-4 * (random() - 0.5)),
        f0Hz,
      ).kind,
    ).not.toBe('crush');
  });

  it.each([4000, 8000, 11025, 15000])('values held at %d Hz, within 0.1 %%', (hz) => {
    const found = dirtOf(heldAt(saw(f0Hz), hz), f0Hz);
    expect(found).toMatchObject({ kind: 'crush', bits: null });
    expect(Math.abs(found.holdHz! / hz - 1)).toBeLessThan(0.001);
  });

  it('both at once', () => {
    const found = dirtOf(withBits(heldAt(saw(f0Hz), 8000), 8), f0Hz);
    expect(found.bits).toBe(8);
    expect(Math.abs(found.holdHz! / 8000 - 1)).toBeLessThan(0.001);
  });

  describe.each([
    ['sine', sine],
    ['dark tone', dark],
  ])('of a %s that dies through a curve', (_, make) => {
    it.each<[string, (x: number) => number]>([
      ['soft', (x) => Math.tanh(4 * x) / 3],
      ['hard', (x) => Math.max(-0.3, Math.min(0.3, x))],
      ['fold', (x) => Math.sin(3 * x) / 3],
    ])('%s', (kind, curve) => {
      expect(dirtOf(dying(make(f0Hz)).map(curve), f0Hz).kind).toBe(kind);
    });
  });

  it('a clipped tone that stands still, by its flat tops', () => {
    const clipped = sine(f0Hz).map((x) => Math.max(-0.5, Math.min(0.5, x)));
    expect(dirtOf(clipped, f0Hz).kind).toBe('hard');
  });

  it('none where the waveform is the same loud and soft, or a sine', () => {
    expect(dirtOf(dying(saw(f0Hz)), f0Hz)).toMatchObject({ kind: 'none', amount: 0 });
    expect(dirtOf(sine(f0Hz), f0Hz, [0, -90, -95])).toMatchObject({ kind: 'none' });
  });

  it.each<[string, () => Float64Array]>([
    ['a steady saw', () => saw(f0Hz)],
    ['a closing filter', () => voices({ f0Hz, seconds: SECONDS, amplitude: closing(f0Hz) })],
    ['a pulse', () => saw(f0Hz).map((_, i) => Math.sign(Math.sin((2 * Math.PI * f0Hz * i) / RATE_HZ)))],
    ['two voices that die', () => dying(voices({ f0Hz, seconds: SECONDS, cents: [-6, 6] }))],
  ])('claims nothing of %s', (_, make) => {
    expect(dirtOf(make(), f0Hz)).toMatchObject({ kind: null, confidence: 0 });
  });
});

function closing(f0Hz: number) {
  const filter = lowpassed(f0Hz, (t) => 300 + 4000 * Math.exp(-4 * t), 24);
  return (n: number, t: number) => Math.exp(-4 * t) * filter(n, t);
}
