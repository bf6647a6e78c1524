import { steadyPhase, turnDown } from './harmonics';
import { hann } from './windows';

it.each([7, 64, 1024, 2051])('is the sum over %i samples that it says', (length) => {
  const signal = Float64Array.from({ length: length + 5 }, (_, i) => Math.sin(0.3 * i * i) + 0.2);
  const window = hann(length);
  const omega = 0.0731;
  const out = new Float64Array(2 * 40);
  turnDown(signal, 5, window, steadyPhase(omega, length + 3), 3, out);
  for (const n of [1, 2, 17, 40]) {
    let re = 0;
    let im = 0;
    for (let i = 0; i < length; i++) {
      re += window[i] * signal[5 + i] * Math.cos(n * omega * (3 + i));
      im -= window[i] * signal[5 + i] * Math.sin(n * omega * (3 + i));
    }
    expect(out[2 * n - 2]).toBeCloseTo(re, 8);
    expect(out[2 * n - 1]).toBeCloseTo(im, 8);
  }
});

it('says how many multiples it takes', () => {
  const window = hann(8);
  expect(() => turnDown(new Float64Array(8), 0, window, steadyPhase(0.1, 8), 0, new Float64Array(400))).toThrow('128');
});
