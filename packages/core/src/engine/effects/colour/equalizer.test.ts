import { CHAIN_RATE_HZ, chainOf, click, effect, responseDb } from '../../../../test/chains';
import { biquadDb, cookbookBiquad } from '../../../../test/cookbook';

const bandOf = (band: object, numbers: { hz: number; db?: number; q?: number }) => {
  const bands = Array.from({ length: 8 }, (_, i) => (i === 2 ? band : {}));
  const { hz, db = 0, q = Math.SQRT1_2 } = numbers;
  return effect('equalizer', { bands, band3Hz: hz, band3Db: db, band3Q: q });
};

const places = [50, 200, 700, 1000, 1400, 3000, 9000, 18000];

describe('The equaliser', () => {
  it.each(['bell', 'notch', 'lowShelf', 'highShelf'] as const)('%s: within 0.1 dB of the Cookbook', (kind) => {
    const printed = kind === 'bell' ? 'peak' : kind;
    for (const [hz, db, q] of [
      [1000, 9, 2],
      [90, -18, 0.4],
      [7000, 12, 0.9],
    ]) {
      const [out] = chainOf(bandOf({ kind }, { hz, db, q })).run(click(1));
      for (const at of places) {
        const biquad = cookbookBiquad(printed, { hz, q, gainDb: db, sampleRateHz: CHAIN_RATE_HZ });
        const wanted = biquadDb(biquad, at, CHAIN_RATE_HZ);
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
