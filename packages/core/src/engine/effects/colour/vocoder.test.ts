import { CHAIN_RATE_HZ, chainOf, chainWithin, effect, keyOf, responseDb, sineOf } from '../../../../test/chains';
import { createRandom } from '../../../../test/signals';
import { vocoderBandGain, vocoderBandHz } from './vocoder';

/** A chain through which nothing goes rests; so little keeps it going. */
const JUST_AWAKE = 1e-6;

describe('The vocoder', () => {
  /**
   * Response at a frequency once a tone is heard: second-order band-passes twice, neighbours turned, each by
   * the level that it hears.
   */
  function expectedDb(hz: number, toneHz: number, bands: number): number {
    let re = 0;
    let im = 0;
    for (let band = 0; band < bands; band++) {
      const own = vocoderBandGain(hz, band, bands);
      const middle = vocoderBandHz(band, bands);
      // Each of the two sections turns by the angle whose cosine is its gain.
      const angle = -2 * Math.acos(Math.sqrt(own)) * Math.sign(hz - middle);
      const level = (band % 2 === 0 ? 1 : -1) * vocoderBandGain(toneHz, band, bands);
      re += level * own * Math.cos(angle);
      im += level * own * Math.sin(angle);
    }
    return 10 * Math.log10(re * re + im * im);
  }

  it.each([8, 24, 64])('with %d bands answers a tone as its bands say, within 1 dB', (bands) => {
    for (const band of [1, Math.floor(bands / 3), Math.floor(bands / 2)]) {
      const toneHz = vocoderBandHz(band, bands);
      // Once the levels of the bands stand still, a click tells what the carrier is put through.
      const carrier = new Float64Array(1.5 * CHAIN_RATE_HZ).fill(JUST_AWAKE);
      carrier[CHAIN_RATE_HZ] = 1;
      const fields = { bands, keyLayerId: 'key', makeUp: false, attackSeconds: 0.005, releaseSeconds: 0.1 };
      const [out] = chainWithin(keyOf(sineOf(toneHz, 1.5)), effect('vocoder', fields)).run(carrier);
      const response = out.subarray(CHAIN_RATE_HZ);
      const own = responseDb(response, toneHz);
      for (const away of [-1, -0.5, 0.5, 1, 1.5]) {
        const hz = vocoderBandHz(band + away, bands);
        const wanted = expectedDb(hz, toneHz, bands) - expectedDb(toneHz, toneHz, bands);
        expect(Math.abs(responseDb(response, hz) - own - wanted)).toBeLessThan(1);
      }
    }
  });

  it('bands meet evenly: their powers add up within 1.5 dB', () => {
    for (const bands of [8, 24, 64]) {
      const sums = Array.from({ length: 200 }, (_, i) => {
        const hz = vocoderBandHz(2 + ((bands - 5) * i) / 199, bands);
        let power = 0;
        for (let band = 0; band < bands; band++) power += vocoderBandGain(hz, band, bands) ** 2;
        return 10 * Math.log10(power);
      });
      expect(Math.max(...sums) - Math.min(...sums)).toBeLessThan(1.5);
    }
  });

  it('turns a tone into noise of its own spectrum, and is silent where the key is', () => {
    const random = createRandom(4);
    const fields = { noise: 100, bands: 32 };
    const tone = sineOf(1000, 1);
    const [out] = chainOf(effect('vocoder', fields)).run(tone);
    const spectrum = (hz: number) => responseDb(out.subarray(CHAIN_RATE_HZ / 2), hz);
    const near = [960, 1000, 1040].map(spectrum);
    expect(Math.max(...near)).toBeGreaterThan(spectrum(300) + 20);
    const silent = effect('vocoder', { keyLayerId: 'key' });
    const hiss = new Float64Array(CHAIN_RATE_HZ).map(random);
    const [nothing] = chainWithin({ noteHz: 0, layer: () => undefined }, silent).run(hiss);
    expect(nothing.every((x) => x === 0)).toBe(true);
  });
});
