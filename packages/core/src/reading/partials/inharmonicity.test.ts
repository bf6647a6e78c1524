import { times, voices } from '../../../test/effects';
import { createRandom } from '../../../test/signals';
import { measureInharmonicity } from './inharmonicity';
import { measureEnvelopes } from './partialEnvelopes';

const RATE_HZ = 44100;
const SECONDS = 1;

/** A string: partials at n·f1·√(1 + B·n²) that die away, the higher ones sooner. */
function stiffString(f1Hz: number, inharmonicity: number): Float64Array {
  const random = createRandom(4);
  const out = new Float64Array(SECONDS * RATE_HZ);
  for (let n = 1; n <= 20; n++) {
    const omega = (2 * Math.PI * n * f1Hz * Math.sqrt(1 + inharmonicity * n * n)) / RATE_HZ;
    const phase = 2 * Math.PI * random();
    for (let i = 0; i < out.length; i++) {
      out[i] += ((0.2 / n) * Math.sin(omega * i + phase)) / Math.exp(((1 + 0.2 * n) * i) / RATE_HZ);
    }
  }
  return out;
}

const read = (signal: Float64Array, f0Hz: number) =>
  measureInharmonicity(measureEnvelopes(signal, RATE_HZ, f0Hz, { mostPartials: 24 }), 0.02, SECONDS - 0.1)
    ?.inharmonicity;

describe('Inharmonicity', () => {
  it.each([
    [55, 5e-5],
    [110, 2e-4],
    [110, 1e-3],
    [220, 5e-4],
    [440, 2e-3],
  ])('of a string of %d Hz with B = %d, within 5 %%', (f1Hz, inharmonicity) => {
    expect(Math.abs(read(stiffString(f1Hz, inharmonicity), f1Hz)! / inharmonicity - 1)).toBeLessThan(0.05);
  });

  it.each([55, 220, 440])('is 0 of a saw at %d Hz, steady or dying', (f0Hz) => {
    const saw = voices({ f0Hz, seconds: SECONDS });
    expect(read(saw, f0Hz)).toBe(0);
    expect(
      read(
        times(saw, (t) => Math.exp(-4 * t)),
        f0Hz,
      ),
    ).toBe(0);
  });

  it('is not told of too few partials', () => {
    expect(read(voices({ f0Hz: 220, seconds: SECONDS, mostPartials: 3 }), 220)).toBeUndefined();
  });
});
