import { createRandom, harmonicTone, saw } from '../../../test/signals';
import { measureWidth } from './width';

const RATE = 44100;
const SECONDS = 2;

function noise(seed: number): Float32Array {
  const random = createRandom(seed);
  return Float32Array.from({ length: SECONDS * RATE }, () => 0.2 * (2 * random() - 1));
}

const widthOf = (left: Float32Array, right: Float32Array) =>
  measureWidth({ channels: [left, right], sampleRateHz: RATE }, 0, SECONDS);

describe('Stereo width', () => {
  const tone = harmonicTone({ f0Hz: 110, amplitude: saw, seconds: SECONDS });

  it('of one signal on both sides is none', () => {
    const { correlation, bands, monoBelowHz } = widthOf(tone, tone);
    expect(correlation).toBe(1);
    expect(monoBelowHz).toBeNull();
    for (const { widthDb } of bands) expect(widthDb).toBeLessThan(-80);
  });

  it('of two strangers is 0 dB in every band, and they have nothing in common', () => {
    const { correlation, bands } = widthOf(noise(1), noise(2));
    expect(Math.abs(correlation!)).toBeLessThan(0.02);
    for (const { fromHz, widthDb } of bands) if (fromHz > 200) expect(Math.abs(widthDb)).toBeLessThan(1);
  });

  it('of a side signal at a known level is that level', () => {
    const [mid, side] = [noise(3), noise(4).map((x) => 0.25 * x)];
    const { bands } = widthOf(
      mid.map((m, i) => m + side[i]),
      mid.map((m, i) => m - side[i]),
    );
    for (const { fromHz, widthDb } of bands) if (fromHz > 200) expect(Math.abs(widthDb + 12.04)).toBeLessThan(1);
  });

  it('that begins over an edge: below it is mono', () => {
    // The sides hold what is over 400 Hz: the noise less its low-passed self, twice.
    const side = [1, 2].reduce((signal) => {
      let low = 0;
      return signal.map((x) => x - (low += (1 - Math.exp((-2 * Math.PI * 400) / RATE)) * (x - low)));
    }, noise(5));
    const deep = harmonicTone({ f0Hz: 41.2, amplitude: saw, seconds: SECONDS });
    const { monoBelowHz } = widthOf(
      deep.map((m, i) => m + 0.5 * side[i]),
      deep.map((m, i) => m - 0.5 * side[i]),
    );
    expect(monoBelowHz).toBeGreaterThan(60);
    expect(monoBelowHz).toBeLessThan(600);
  });

  it('of one channel is none, for sure', () => {
    const found = measureWidth({ channels: [tone], sampleRateHz: RATE }, 0, 1);
    expect(found).toMatchObject({ correlation: 1, monoBelowHz: null, cause: null, bands: [], confidence: 1 });
  });

  it('of silence is not claimed', () => {
    const silent = new Float32Array(RATE);
    expect(measureWidth({ channels: [silent, silent], sampleRateHz: RATE }, 0, 1).confidence).toBe(0);
  });
});
