import { CHAIN_RATE_HZ, chainOf, click, effect, responseDb } from '../../../../test/chains';

const bandOf = (band: object, numbers: { hz: number; db?: number; q?: number }) => {
  const bands = Array.from({ length: 8 }, (_, i) => (i === 2 ? band : {}));
  const { hz, db = 0, q = Math.SQRT1_2 } = numbers;
  return effect('equalizer', { bands, band3Hz: hz, band3Db: db, band3Q: q });
};

type Coefficients = [b0: number, b1: number, b2: number, a0: number, a1: number, a2: number];

/** Response of a digital biquad, dB. */
function biquadDb([b0, b1, b2, a0, a1, a2]: Coefficients, hz: number): number {
  const w = (2 * Math.PI * hz) / CHAIN_RATE_HZ;
  const power = (c0: number, c1: number, c2: number) =>
    (c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w)) ** 2 + (c1 * Math.sin(w) + c2 * Math.sin(2 * w)) ** 2;
  return 10 * Math.log10(power(b0, b1, b2) / power(a0, a1, a2));
}

/** R. Bristow-Johnson, Audio EQ Cookbook, as printed. */
function cookbook(kind: string, hz: number, gainDb: number, q: number): Coefficients {
  const w = (2 * Math.PI * hz) / CHAIN_RATE_HZ;
  const cos = Math.cos(w);
  const alpha = Math.sin(w) / 2 / q;
  const A = 10 ** (gainDb / 40);
  const root = 2 * Math.sqrt(A) * alpha;
  switch (kind) {
    case 'bell':
      return [1 + alpha * A, -2 * cos, 1 - alpha * A, 1 + alpha / A, -2 * cos, 1 - alpha / A];
    case 'notch':
      return [1, -2 * cos, 1, 1 + alpha, -2 * cos, 1 - alpha];
    case 'lowShelf':
      return [
        A * (A + 1 - (A - 1) * cos + root),
        2 * A * (A - 1 - (A + 1) * cos),
        A * (A + 1 - (A - 1) * cos - root),
        A + 1 + (A - 1) * cos + root,
        -2 * (A - 1 + (A + 1) * cos),
        A + 1 + (A - 1) * cos - root,
      ];
    default:
      return [
        A * (A + 1 + (A - 1) * cos + root),
        -2 * A * (A - 1 + (A + 1) * cos),
        A * (A + 1 + (A - 1) * cos - root),
        A + 1 - (A - 1) * cos + root,
        2 * (A - 1 - (A + 1) * cos),
        A + 1 - (A - 1) * cos - root,
      ];
  }
}

const places = [50, 200, 700, 1000, 1400, 3000, 9000, 18000];

describe('The equaliser', () => {
  it.each(['bell', 'notch', 'lowShelf', 'highShelf'])('%s: within 0.1 dB of the Cookbook', (kind) => {
    for (const [hz, db, q] of [
      [1000, 9, 2],
      [90, -18, 0.4],
      [7000, 12, 0.9],
    ]) {
      const [out] = chainOf(bandOf({ kind }, { hz, db, q })).run(click(1));
      for (const at of places) {
        const wanted = biquadDb(cookbook(kind, hz, db, q), at);
        if (wanted > -60) expect(Math.abs(responseDb(out, at) - wanted)).toBeLessThan(0.1);
      }
    }
  });

  it.each([6, 12, 18, 24, 36, 48])('cuts of %i dB per octave: Butterworth within 0.1 dB', (slopeDbPerOctave) => {
    const order = slopeDbPerOctave / 6;
    const warped = (hz: number) => Math.tan((Math.PI * hz) / CHAIN_RATE_HZ);
    for (const [kind, sign] of [
      ['lowCut', -1],
      ['highCut', 1],
    ] as const) {
      const [out] = chainOf(bandOf({ kind, slopeDbPerOctave }, { hz: 800 })).run(click(1));
      for (const at of places) {
        const wanted = -10 * Math.log10(1 + (warped(at) / warped(800)) ** (2 * sign * order));
        if (wanted > -100) expect(Math.abs(responseDb(out, at) - wanted)).toBeLessThan(0.1);
      }
    }
  });

  it('a tilt turns around its frequency, by half the gain either way', () => {
    const [out] = chainOf(bandOf({ kind: 'tilt' }, { hz: 1000, db: 8 })).run(click(1));
    expect(responseDb(out, 20)).toBeCloseTo(-4, 1);
    expect(responseDb(out, 1000)).toBeCloseTo(0, 1);
    expect(responseDb(out, 20000)).toBeCloseTo(4, 1);
  });

  it('leaves a signal as it is while no band is on', () => {
    const signal = click(0.01);
    expect(chainOf(effect('equalizer')).run(signal)[0]).toEqual(signal);
  });
});
