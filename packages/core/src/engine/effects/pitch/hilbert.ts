import { forgetSmall } from '../../filters/stateVariable';

/**
 * Coefficients of the all-pass sections of an elliptic half-band filter, which turned by a quarter of the
 * rate make two branches whose phases are 90° apart: half of them, in turn, to each branch (Schüssler &
 * Steffen 1998, "Halfband filters and Hilbert transformers"; design through theta functions: Valenzuela &
 * Constantinides 1983).
 */
function hilbertCoefficients(count: number, transition: number): Float64Array {
  const k = Math.tan(((1 - 2 * transition) * Math.PI) / 4) ** 2;
  const root = (1 - k * k) ** 0.25;
  const e = (0.5 * (1 - root)) / (1 + root);
  const q = e + 2 * e ** 5 + 15 * e ** 9 + 150 * e ** 13;
  const order = 2 * count + 1;
  return Float64Array.from({ length: count }, (_, c) => {
    const angle = ((c + 1) * Math.PI) / order;
    let above = 0;
    let below = 0.5;
    for (let n = 0; n < 12; n++) {
      const sign = n % 2 === 0 ? 1 : -1;
      above += sign * q ** (n * (n + 1)) * Math.sin((2 * n + 1) * angle);
      if (n > 0) below += sign * q ** (n * n) * Math.cos(2 * n * angle);
    }
    const w = (above * q ** 0.25) / below;
    const x = Math.sqrt((1 - w * w * k) * (1 - (w * w) / k)) / (1 + w * w);
    return (1 - x) / (1 + x);
  });
}

/**
 * One channel's signal as a pair a quarter of a turn apart.
 *
 * @param sections an even number: the more, the closer to a quarter of a turn
 * @param transition outside of this distance from 0 and from half the rate, as a share of the rate, they are
 *   that far apart
 */
export function createHilbert(sections: number, transition: number) {
  const coefficients = hilbertCoefficients(sections, transition);
  // Of each section two samples of its input and two of its output, of which every second is used.
  const inputs = new Float64Array(2 * sections);
  const outputs = new Float64Array(2 * sections);
  let before = 0;
  let even = 0;
  const pair = { re: 0, im: 0 };
  const section = (n: number, x: number): number => {
    const i = 2 * n + even;
    // y[n] = c (x[n] + y[n−2]) − x[n−2]: the half-band's section turned by a quarter of the rate.
    const y = coefficients[n] * (x + outputs[i]) - inputs[i];
    inputs[i] = x;
    outputs[i] = y;
    return y;
  };
  return {
    pair,
    clear() {
      inputs.fill(0);
      outputs.fill(0);
      before = 0;
    },
    run(x: number): void {
      let re = x;
      let im = before;
      for (let n = 0; n < sections; n += 2) {
        re = section(n, re);
        im = section(n + 1, im);
      }
      before = x;
      even = 1 - even;
      pair.re = re;
      pair.im = im;
    },
    settle() {
      for (let i = 0; i < outputs.length; i++) {
        inputs[i] = forgetSmall(inputs[i]);
        outputs[i] = forgetSmall(outputs[i]);
      }
    },
  };
}
