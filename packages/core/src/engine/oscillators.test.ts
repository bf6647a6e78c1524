import { amplitudeAt, decibels } from '../../test/signals';
import { plainPatch } from '../../test/patches';
import { hzFromMidi } from '../dsp/pitch';
import { fftOfSize } from '../dsp/fft';
import { type Patch, sourceSchema } from '../patch/schema';
import { wavetableFromSamples } from '../patch/wavetableFrames';
import { renderPatch } from './render';

const RATE = 44100;

function held(patch: Patch, midi: number, seconds = 1): Float32Array {
  const [left] = renderPatch({
    patch,
    notes: [{ onsetSeconds: 0, durationSeconds: 60, midi, velocity: 100 }],
    sampleRateHz: RATE,
    seconds,
  });
  return left;
}

describe('Shapes have the partials of their Fourier series', () => {
  const hz = hzFromMidi(45);
  const relative = (patch: Patch, n: number) => {
    const signal = held(patch, 45);
    return amplitudeAt(signal, RATE, n * hz) / amplitudeAt(signal, RATE, hz);
  };
  it.each([2, 3, 4, 7, 20])('saw: partial %i is 1/n', (n) => {
    expect(decibels(relative(plainPatch('saw'), n) * n)).toBeCloseTo(0, 1);
  });
  it.each([3, 5, 21])('square: partial %i is 1/n, even ones are gone', (n) => {
    const square = plainPatch('pulse', { pulseWidth: 50 });
    expect(decibels(relative(square, n) * n)).toBeCloseTo(0, 1);
    expect(decibels(relative(square, n + 1))).toBeLessThan(-80);
  });
  it.each([3, 5, 9])('triangle: partial %i is 1/n², even ones are gone', (n) => {
    expect(decibels(relative(plainPatch('triangle'), n) * n * n)).toBeCloseTo(0, 1);
    expect(decibels(relative(plainPatch('triangle'), n + 1))).toBeLessThan(-80);
  });
  it.each([10, 25, 40])('pulse of %i %%: partials are sin(πnd)/n', (width) => {
    const d = width / 100;
    for (const n of [2, 3, 6]) {
      const expected = Math.abs(Math.sin(Math.PI * n * d)) / n / Math.sin(Math.PI * d);
      expect(Math.abs(relative(plainPatch('pulse', { pulseWidth: width }), n) - expected)).toBeLessThan(0.003);
    }
  });
  it('sine: nothing but itself', () => {
    for (const n of [2, 3, 5]) expect(decibels(relative(plainPatch('sine'), n))).toBeLessThan(-95);
  });
});

/** Strongest line that is no partial of the tone, dB under the fundamental. Välimäki & Huovilainen 2007 measure aliasing so. */
function aliasDb(signal: Float32Array, hz: number): number {
  const size = 32768;
  const real = new Float64Array(size);
  const imaginary = new Float64Array(size);
  // A window with side lobes under −92 dB (Blackman-Harris), so that a strong partial hides nothing 80 dB down.
  for (let i = 0; i < size; i++) {
    const x = (2 * Math.PI * i) / size;
    real[i] =
      signal[4000 + i] * (0.35875 - 0.48829 * Math.cos(x) + 0.14128 * Math.cos(2 * x) - 0.01168 * Math.cos(3 * x));
  }
  fftOfSize(size).forward(real, imaginary);
  let fundamental = 0;
  let stray = 0;
  for (let k = 8; k < size / 2; k++) {
    const power = real[k] ** 2 + imaginary[k] ** 2;
    const nearest = Math.max(1, Math.round((k * RATE) / size / hz)) * hz;
    const isPartial = Math.abs((k * RATE) / size - nearest) < (6 * RATE) / size && nearest < RATE / 2;
    if (isPartial && nearest === hz) fundamental = Math.max(fundamental, power);
    else if (!isPartial) stray = Math.max(stray, power);
  }
  return 10 * Math.log10(stray / fundamental);
}

describe('Aliasing of a saw is at least 80 dB under its fundamental', () => {
  it.each([40, 61.7, 82.3, 95.1, 107.9])('MIDI note %f', (midi) => {
    expect(aliasDb(held(plainPatch('saw'), midi), hzFromMidi(midi))).toBeLessThan(-80);
  });
});

it('two saws 52 cents apart at 110 Hz beat at 3.3 Hz on the fundamental (trigonometry; detune: common practice)', () => {
  const signal = held(plainPatch('saw', { unisonVoices: 2, unisonDetuneCents: 52 }), 45, 4);
  const expected = 110 * (2 ** (26 / 1200) - 2 ** (-26 / 1200));
  expect(expected).toBeCloseTo(3.3, 1);
  for (const sign of [-1, 1]) {
    const line = 110 * 2 ** ((sign * 26) / 1200);
    expect(amplitudeAt(signal, RATE, line)).toBeGreaterThan(20 * amplitudeAt(signal, RATE, 110));
  }
});

it('a wavetable position between two frames is their mix', () => {
  const patch = plainPatch('sine');
  const frames = new Float32Array(2 * 2048);
  for (let i = 0; i < 2048; i++) {
    frames[i] = Math.sin((2 * Math.PI * i) / 2048);
    frames[2048 + i] = Math.sin((2 * Math.PI * 3 * i) / 2048);
  }
  patch.wavetables = [wavetableFromSamples('t', 'Two frames', frames)];
  patch.layers[0].sources = [sourceSchema.parse({ kind: 'wavetable', id: 'source-1', wavetableId: 't', position: 25 })];
  const signal = held(patch, 45);
  expect(amplitudeAt(signal, RATE, 110)).toBeCloseTo(0.75, 3);
  expect(amplitudeAt(signal, RATE, 330)).toBeCloseTo(0.25, 3);
});
