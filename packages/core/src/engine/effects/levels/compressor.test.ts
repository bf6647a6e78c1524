import { CHAIN_RATE_HZ, chainOf, chainWithin, effect, keyOf, sineOf } from '../../../../test/chains';
import { meter } from '../chain/effectChain';
import { amplitudeAt } from '../../../../test/signals';
import { some } from '../../../../test/thorough';

const decibels = (x: number) => 20 * Math.log10(Math.abs(x));

describe('The compressor', () => {
  // Giannoulis, Massberg & Reiss, "Digital Dynamic Range Compressor Design", JAES 2012, eq. 4, written out
  // again.
  const staticCurve = (x: number, T: number, R: number, W: number) =>
    2 * (x - T) < -W
      ? x
      : 2 * Math.abs(x - T) <= W
        ? x + ((1 / R - 1) * (x - T + W / 2) ** 2) / (2 * W)
        : T + (x - T) / R;

  /** The largest value of the last part of a signal, dB: the level of a tone that stands still by then. */
  const levelDb = (signal: Float64Array) =>
    decibels(signal.slice(-CHAIN_RATE_HZ / 4).reduce((a, x) => Math.max(a, Math.abs(x)), 0));

  some(1).it.each([
    [-20, 4, 0],
    [-20, 4, 12],
    [-30, 2, 24],
    [-12, 100, 6],
  ])(
    'threshold %d dB, ratio %d, knee %d dB: tones of 40 Hz to 5 kHz follow its curve within 0.1 dB',
    (T, ratio, knee) => {
      for (const hz of [40, 110, 440, 1000, 5000]) {
        for (const detector of ['peak', 'rms']) {
          const fields = { thresholdDb: T, ratio, kneeDb: knee, attackSeconds: 0.005, releaseSeconds: 0.05, detector };
          for (const level of [-50, -26, -20, -8, 0]) {
            const [out] = chainOf(effect('compressor', fields)).run(sineOf(hz, 1, 10 ** (level / 20)));
            const wanted = staticCurve(level, T, ratio === 100 ? 1e9 : ratio, Math.max(1e-9, knee));
            expect(Math.abs(levelDb(out) - wanted)).toBeLessThan(0.1);
          }
        }
      }
    },
  );

  it.each([
    [0.005, 0.05, 1000],
    [0.03, 0.4, 40],
    [0.1, 0.1, 440],
    [0.02, 0.2, 5000],
  ])(
    'attack %d s and release %d s on a tone of %d Hz: 63 %% of the way, within 10 %%',
    (attackSeconds, releaseSeconds, hz) => {
      const fields = { thresholdDb: -30, ratio: 100, kneeDb: 0, attackSeconds, releaseSeconds };
      const signal = sineOf(hz, 3, 10 ** (-40 / 20));
      const loud = sineOf(hz, 3, 1);
      for (let i = CHAIN_RATE_HZ; i < 2 * CHAIN_RATE_HZ; i++) signal[i] = loud[i];
      const [out] = chainOf(effect('compressor', fields)).run(signal);
      // Where the tone goes through zero its gain cannot be told.
      const gains = out.map((y, i) => (Math.abs(signal[i]) > 1e-4 ? decibels(y / signal[i]) : NaN));
      const share = 1 - Math.exp(-1);
      const attacked = gains.findIndex((db, i) => i >= CHAIN_RATE_HZ && db <= -30 * share);
      const released = gains.findIndex((db, i) => i >= 2 * CHAIN_RATE_HZ && db >= -30 * (1 - share));
      // A tone shows its gain twice a period only.
      const slack = 0.25 / hz;
      const off = (at: number, from: number, seconds: number) => Math.abs((at - from) / CHAIN_RATE_HZ - seconds);
      expect(off(attacked, CHAIN_RATE_HZ, attackSeconds)).toBeLessThan(0.1 * attackSeconds + slack);
      expect(off(released, 2 * CHAIN_RATE_HZ, releaseSeconds)).toBeLessThan(0.1 * releaseSeconds + slack);
    },
  );

  it('a filtered key does not hear the lows', () => {
    const fields = { thresholdDb: -40, ratio: 100, kneeDb: 0, attackSeconds: 0.2, releaseSeconds: 0.2 };
    const heard = (extra: object, hz: number) => {
      const chain = chainOf(effect('compressor', { ...fields, ...extra }));
      chain.chain.metered = true;
      chain.run(sineOf(hz, 3));
      return chain.chain.meters[meter.reductionDb];
    };
    expect(heard({}, 50)).toBeGreaterThan(heard({ keyLowCutHz: 800 }, 50) + 20);
  });

  it('counts a sine alike on one side, on both, and in the three-band compressor', () => {
    const silent = (signal: Float64Array) => new Float64Array(signal.length);
    const tone = sineOf(1000, 2, 10 ** (-6 / 20));
    const single = { thresholdDb: -20, ratio: 4, kneeDb: 6 };
    // Far from the crossovers, so that what the other bands let through does not count.
    const bands = {
      lowHz: 60,
      highHz: 8000,
      midDownDb: -20,
      midDownRatio: 4,
      midUpRatio: 1,
      lowDownRatio: 1,
      lowUpRatio: 1,
      highDownRatio: 1,
      highUpRatio: 1,
    };
    const both = levelDb(chainOf(effect('compressor', single)).run(tone)[0]);
    expect(levelDb(chainOf(effect('compressor', single)).run(tone, silent(tone))[0])).toBeCloseTo(both, 1);
    const three = levelDb(chainOf(effect('multiband', bands)).run(tone)[0]);
    expect(Math.abs(three - both)).toBeLessThan(0.3);
    expect(levelDb(chainOf(effect('multiband', bands)).run(tone, silent(tone))[0])).toBeCloseTo(three, 1);
  });
});

describe('The compressor with a key', () => {
  it('is turned down by the other layer, not by itself', () => {
    const key = sineOf(300, 1, 1);
    key.fill(0, 0, CHAIN_RATE_HZ / 2);
    const fields = { keyLayerId: 'key', thresholdDb: -20, ratio: 4, kneeDb: 0, attackSeconds: 0.005 };
    const [out] = chainWithin(keyOf(key), effect('compressor', fields)).run(sineOf(1000, 1));
    const levelFrom = (seconds: number) => {
      const from = Math.round(seconds * CHAIN_RATE_HZ);
      return decibels(amplitudeAt(out.subarray(from, from + 1920), CHAIN_RATE_HZ, 1000) / 0.5);
    };
    expect(levelFrom(0.4)).toBeCloseTo(0, 2);
    expect(Math.abs(levelFrom(0.94) + 15)).toBeLessThan(0.1);
  });
});
