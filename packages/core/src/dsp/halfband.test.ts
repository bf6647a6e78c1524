import { amplitudeAt, decibels } from '../../test/signals';
import {
  DECIMATOR_LATENCY,
  INTERPOLATOR_LATENCY,
  OVERSAMPLING,
  bessel0,
  createDecimator,
  createDelay,
  createInterpolator,
} from './halfband';

const RATE = 44100;
const HIGH = OVERSAMPLING * RATE;
const BLOCK = 32;

const sine = (hz: number, rate: number, length: number) =>
  Float64Array.from({ length }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate));

/** Runs a whole signal through in blocks of 32. */
function decimate(signal: Float64Array): Float64Array {
  const decimator = createDecimator();
  const output = new Float64Array(signal.length / OVERSAMPLING);
  for (let at = 0; at < output.length; at += BLOCK) {
    const part = new Float64Array(BLOCK);
    decimator.add(signal.slice(OVERSAMPLING * at, OVERSAMPLING * (at + BLOCK)), part, 0, BLOCK);
    output.set(part, at);
  }
  return output;
}

function interpolate(signal: Float64Array): Float64Array {
  const interpolator = createInterpolator();
  const output = new Float64Array(signal.length * OVERSAMPLING);
  for (let at = 0; at < signal.length; at += BLOCK) {
    const part = new Float64Array(OVERSAMPLING * BLOCK);
    interpolator.run(signal.slice(at, at + BLOCK), part, 0, BLOCK);
    output.set(part, OVERSAMPLING * at);
  }
  return output;
}

const LENGTH = 8192;
const settled = (signal: Float64Array, from: number) => signal.subarray(from);

describe('Going down from four times the rate', () => {
  it.each([50, 1000, 10000, 17000])('passes %i Hz unchanged, a whole number of samples later', (hz) => {
    const low = decimate(sine(hz, HIGH, OVERSAMPLING * LENGTH));
    expect(Number.isInteger(DECIMATOR_LATENCY)).toBe(true);
    for (let i = 200; i < 260; i++) {
      expect(low[i]).toBeCloseTo(Math.sin((2 * Math.PI * hz * (i - DECIMATOR_LATENCY)) / RATE), 3);
    }
  });
  // Kaiser's design formula promises this for 28 and 12 taps a side.
  it.each([22100, 24000, 27000, 35000, 44100 + 300, 60000, 88000, 70000])('keeps %i Hz at least 68 dB down', (hz) => {
    const low = settled(decimate(sine(hz, HIGH, OVERSAMPLING * LENGTH)), 200);
    const image = Math.abs(hz - RATE * Math.round(hz / RATE));
    expect(decibels(amplitudeAt(low, RATE, image))).toBeLessThan(-68);
  });
});

describe('Going up to four times the rate', () => {
  it.each([50, 1000, 10000, 17000])('passes %i Hz and adds no images', (hz) => {
    const high = interpolate(sine(hz, RATE, LENGTH));
    for (let i = 900; i < 1000; i++) {
      const seconds = i / HIGH - INTERPOLATOR_LATENCY / RATE;
      expect(high[i]).toBeCloseTo(Math.sin(2 * Math.PI * hz * seconds), 3);
    }
    for (const image of [RATE - hz, RATE + hz, 2 * RATE - hz]) {
      expect(decibels(amplitudeAt(settled(high, 800), HIGH, image))).toBeLessThan(-78);
    }
  });
});

it('delays by whole samples across blocks of any size', () => {
  const delay = createDelay(5, 16);
  const heard: number[] = [];
  for (let at = 1; at < 40;) {
    const count = Math.min(1 + (at % 7), 16);
    const block = Float64Array.from({ length: count }, (_, i) => at + i);
    delay.run(block, 0, count);
    heard.push(...block);
    at += count;
  }
  expect(heard.slice(0, 12)).toEqual([0, 0, 0, 0, 0, 1, 2, 3, 4, 5, 6, 7]);
});

it('the Bessel function I0 has its tabulated values (Abramowitz & Stegun, table 9.8)', () => {
  expect(bessel0(0)).toBe(1);
  expect(bessel0(1)).toBeCloseTo(1.2660658, 6);
  expect(bessel0(5)).toBeCloseTo(27.239872, 5);
});
