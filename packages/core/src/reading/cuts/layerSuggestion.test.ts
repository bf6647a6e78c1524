import { times, voices } from '../../../test/effects';
import { createRandom } from '../../../test/signals';
import { readTone } from '../read';
import { some, thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 2;
const F0_HZ = 55;

const held = (t: number) => Math.min(1, t / 0.01) * (t < 1.7 ? 1 : Math.exp(-30 * (t - 1.7)));
const body = times(
  voices({ f0Hz: F0_HZ, seconds: SECONDS, amplitude: (n) => 1 / n / Math.sqrt(1 + ((n * F0_HZ) / 900) ** 8) }),
  held,
);
const sub = times(voices({ f0Hz: F0_HZ, seconds: SECONDS, mostPartials: 1 }), held).map((x) => 4 * x);

/** White noise behind two one-pole high-passes. */
function hiss(fromHz: number): Float64Array {
  const random = createRandom(4);
  const share = 1 - Math.exp((-2 * Math.PI * fromHz) / RATE_HZ);
  let [a, b] = [0, 0];
  return Float64Array.from({ length: SECONDS * RATE_HZ }, () => {
    let x = 2 * random() - 1;
    a += share * (x - a);
    x -= a;
    b += share * (x - b);
    return x - b;
  });
}
const click = times(hiss(3000), (t) => 0.3 * Math.exp(-60 * t));
const air = times(hiss(7000), (t) => 0.02 * held(t));
const closing = times(
  voices({
    f0Hz: 110,
    seconds: SECONDS,
    amplitude: (n, t) => 1 / n / Math.sqrt(1 + ((n * 110) / (250 + 3000 * Math.exp(-t / 0.1))) ** 8),
  }),
  (t) => Math.exp(-1.5 * t),
);

const sum = (...parts: Float64Array[]) => Float32Array.from(parts[0], (_, i) => parts.reduce((a, x) => a + x[i], 0));

const layersOf = (...channels: Float32Array[]) => readTone({ channels, sampleRateHz: RATE_HZ }).layers;

describe('The layers that would explain a tone', () => {
  some(1).it.each<[string, Float64Array[], string[]]>([
    ['a body', [body], ['body']],
    ['a low-pass that closes', [closing], ['body']],
    ['a body and a sine under it', [body, sub], ['sub', 'body']],
    ['a body and a click', [body, click], ['body', 'attack']],
    ['a body and breath over it', [body, air], ['body', 'air']],
    ['all four', [body, sub, click, air], ['sub', 'body', 'attack', 'air']],
  ])('%s', (_, parts, wanted) => {
    expect(layersOf(sum(...parts)).map(({ name }) => name)).toEqual(wanted);
  });

  thorough.it('the edges of each lie where its bands do', () => {
    const [low, middle, attack] = layersOf(sum(body, sub, click));
    expect(low.toHz).toBe(120);
    expect(middle).toMatchObject({ fromHz: 120, toHz: 1920 });
    expect(attack.fromHz).toBe(1920);
    expect(attack.reason).toMatch(/15 dB down after [2-6]0 ms/);
  });

  thorough.it('a sub in the middle under a wide body', () => {
    // The partials from the second on, wide; the first is the same on both sides.
    const upper = (cents: number[], seed: number) =>
      times(voices({ f0Hz: F0_HZ, seconds: SECONDS, cents, seed, amplitude: (n) => (n > 2 ? 1 / n : 0) }), held);
    const middle = times(voices({ f0Hz: F0_HZ, seconds: SECONDS, mostPartials: 2 }), held);
    const [first] = layersOf(sum(upper([-9, 4], 1), middle), sum(upper([-3, 10], 2), middle));
    expect(first).toMatchObject({ name: 'sub', reason: 'it stands in the middle under a body that is wide' });
  });
});
