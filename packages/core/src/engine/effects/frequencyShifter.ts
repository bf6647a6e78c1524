import { forgetSmall } from '../filters/stateVariable';
import { BLOCK_SAMPLES } from '../sources/source';
import { type EffectModel, type EffectOf, Ramp } from './effect';

const SECTIONS = 12;
/** Outside of this distance from 0 and from half the rate, as a share of the rate, the branches are a quarter of a turn apart. */
const TRANSITION = 0.0006;

/**
 * Coefficients of the all-pass sections of an elliptic half-band filter, which turned by a quarter of the rate make two branches whose phases
 * are 90° apart: half of them, in turn, to each branch (Schüssler & Steffen 1998, "Halfband filters and Hilbert transformers"; design through
 * theta functions: Valenzuela & Constantinides 1983).
 */
export function hilbertCoefficients(count: number, transition: number): Float64Array {
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

/** One channel's signal as a pair a quarter of a turn apart. */
function createHilbert(coefficients: Float64Array) {
  // Of each section two samples of its input and two of its output, of which every second is used.
  const inputs = new Float64Array(2 * SECTIONS);
  const outputs = new Float64Array(2 * SECTIONS);
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
      for (let n = 0; n < SECTIONS; n += 2) {
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

/** What is fed back leaves out what lies next to 0 and to half the rate: there the branches are not apart, and a loop could grow. */
const LOOP_LOW_HZ = 60;
const LOOP_TOP_POLE = 0.8;

function createLoopFilter(sampleRateHz: number) {
  const pole = 1 - (2 * Math.PI * LOOP_LOW_HZ) / sampleRateHz;
  const gain = ((1 + pole) / 2) * ((1 + LOOP_TOP_POLE) / 2);
  const state = { x: 0, low: 0, high: 0, y: 0 };
  return {
    get y() {
      return state.y;
    },
    clear: () => void Object.assign(state, { x: 0, low: 0, high: 0, y: 0 }),
    /** A zero at 0 and one at half the rate, each with a pole beside it. */
    run(x: number): void {
      const low = x - state.x + pole * state.low;
      const high = low + state.low - LOOP_TOP_POLE * state.high;
      state.x = x;
      state.low = forgetSmall(low);
      state.high = forgetSmall(high);
      state.y = gain * high;
    },
  };
}

/** Moves every partial by as many Hz (single-sideband modulation): harmonics become inharmonic, small shifts beat; fed back, they climb. */
export const frequencyShifter: EffectModel<EffectOf<'frequencyShifter'>> = {
  standsApart: true,
  create(sampleRateHz) {
    const coefficients = hilbertCoefficients(SECTIONS, TRANSITION);
    const hilberts = [createHilbert(coefficients), createHilbert(coefficients)];
    const [turn, feedback] = [new Ramp(), new Ramp()];
    const loops = [createLoopFilter(sampleRateHz), createLoopFilter(sampleRateHz)];
    let cycles = 0;
    return {
      latency: 0,
      clear() {
        for (const part of [...hilberts, ...loops, turn, feedback]) part.clear();
        cycles = 0;
      },
      run({ spec, slots }, values, left, right) {
        turn.to(values[slots.shiftHz] / sampleRateHz, BLOCK_SAMPLES);
        feedback.to(values[slots.feedback] / 100, BLOCK_SAMPLES);
        const sign = spec.opposite ? -1 : 1;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          cycles += turn.value + (i + 1) * turn.step;
          cycles -= Math.floor(cycles);
          const cos = Math.cos(2 * Math.PI * cycles);
          const sin = Math.sin(2 * Math.PI * cycles);
          const back = feedback.value + (i + 1) * feedback.step;
          hilberts[0].run(left[i] + back * loops[0].y);
          hilberts[1].run(right[i] + back * loops[1].y);
          left[i] = hilberts[0].pair.re * cos - hilberts[0].pair.im * sin;
          right[i] = hilberts[1].pair.re * cos - sign * hilberts[1].pair.im * sin;
          loops[0].run(left[i]);
          loops[1].run(right[i]);
        }
        for (const hilbert of hilberts) hilbert.settle();
        turn.advance(BLOCK_SAMPLES);
        feedback.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => 2 * SECTIONS,
    };
  },
};
