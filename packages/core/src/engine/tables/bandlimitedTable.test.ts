import { amplitudeAt, decibels } from '../../../test/signals';
import { plainPatch, sourcePatch } from '../../../test/patches';
import { aliasDb } from '../../../test/spectrum';
import { hzFromMidi } from '../../dsp/pitch';
import { builtInTables } from '../../patch/contents/builtInTables';
import type { Patch } from '../../patch/schema';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { wavetableFromSamples } from '../../patch/contents/wavetableFrames';
import { prepareResources } from '../program/resources';
import { renderPatch } from '../render';
import { some } from '../../../test/thorough';

const RATE = 44100;

function held(patch: Patch, midi: number, seconds = 1, resources = prepareResources(patch)): Float32Array {
  const [left] = renderPatch({
    patch,
    resources,
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

describe('Aliasing is at least 80 dB under the fundamental', () => {
  // Fundamentals that share no simple ratio with the sampling rate, from 82 Hz to 5 kHz.
  const midis = [40, 61.7, 82.3, 95.1, 107.9, 111.1];
  const shapes: [string, Patch][] = [
    ['saw', plainPatch('saw')],
    ['triangle', plainPatch('triangle')],
    ['square', plainPatch('pulse')],
    ['pulse of 13 %', plainPatch('pulse', { pulseWidth: 13 })],
    ['saw half morphed to a pulse', plainPatch('saw', { morph: 50 })],
    ['sine half morphed to a triangle', plainPatch('sine', { morph: 50 })],
    ['40 equal partials', sourcePatch({ kind: 'partials', levelsDb: new Array<number>(40).fill(-40) })],
  ];
  describe.each(shapes)('%s', (_name, patch) => {
    it.each(midis)('MIDI note %f', (midi) => {
      expect(aliasDb(held(patch, midi), hzFromMidi(midi), RATE)).toBeLessThan(-80);
    });
  });
  some(5).it.each(builtInTables.map((table) => [table.name, table] as const))('built-in table %s', (_name, table) => {
    const wavetables = [{ ...table.make(), id: 't' }];
    const patchAt = (position: number) => ({
      ...sourcePatch({ kind: 'wavetable', wavetableId: 't', position }),
      wavetables,
    });
    const resources = prepareResources(patchAt(0));
    for (const position of [0, 37, 100]) {
      for (const midi of [61.7, 95.1]) {
        expect(aliasDb(held(patchAt(position), midi, 1, resources), hzFromMidi(midi), RATE, 'strongest')).toBeLessThan(
          -80,
        );
      }
    }
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
