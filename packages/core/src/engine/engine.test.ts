import { checkRandomPatches } from '../../../../bench/randomPatches';
import { rowsOf } from '../../test/thorough';
import { plainPatch } from '../../test/patches';
import { decibels } from '../../test/signals';
import { createEngine } from './engine';
import { POLYPHONY } from './voice/layerVoices';
import { NO_RESOURCES, prepareResources } from './program/resources';
import { renderPatch } from './render';

const RATE = 44100;
const note = (onsetSeconds: number, durationSeconds: number, midi = 45, velocity = 100) => ({
  onsetSeconds,
  durationSeconds,
  midi,
  velocity,
});

it('gives the same samples however the host cuts its blocks', () => {
  const patch = plainPatch('saw', { unisonVoices: 3, unisonDetuneCents: 20 });
  const notes = [note(0.01, 0.1), note(0.0333, 0.2, 57)];
  const [whole] = renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 0.4 });
  const engine = createEngine({ sampleRateHz: RATE }, patch, prepareResources(patch));
  for (const { onsetSeconds, durationSeconds, midi, velocity } of notes) {
    const noteId = midi;
    engine.schedule({ kind: 'noteOn', frame: Math.round(onsetSeconds * RATE), noteId, midi, velocity });
    engine.schedule({ kind: 'noteOff', frame: Math.round((onsetSeconds + durationSeconds) * RATE), noteId });
  }
  const left = new Float32Array(whole.length);
  const right = new Float32Array(whole.length);
  const sizes = [128, 1, 77, 512, 31];
  for (let at = 0, i = 0; at < left.length; i++) {
    const count = Math.min(sizes[i % sizes.length], left.length - at);
    engine.process(left, right, at, count);
    at += count;
  }
  expect(left).toEqual(whole);
});

it('starts a note at its very sample', () => {
  for (const frame of [0, 1, 31, 32, 1000]) {
    const [left] = renderPatch({
      patch: plainPatch('saw', { startPhaseCycles: 0.25 }),
      notes: [note(frame / RATE, 1)],
      sampleRateHz: RATE,
      seconds: 0.1,
    });
    expect(left.findIndex((x) => x !== 0)).toBe(frame);
  }
});

it('repeats a render exactly, and differs with another seed', () => {
  const patch = plainPatch('saw', { unisonVoices: 5, unisonDetuneCents: 20, startPhaseRandom: 100 });
  const render = (seed: number) =>
    renderPatch({ patch, notes: [note(0, 0.1)], sampleRateHz: RATE, seconds: 0.1, seed })[0];
  expect(render(1)).toEqual(render(1));
  expect(render(1)).not.toEqual(render(2));
});

it('plays attack, decay, sustain and release at the stated times', () => {
  const patch = plainPatch('sine');
  Object.assign(patch.layers[0].amp, { attackSeconds: 0.1, decaySeconds: 0.3, sustainDb: -12, releaseSeconds: 0.5 });
  const [left] = renderPatch({ patch, notes: [note(0, 1, 81)], sampleRateHz: RATE, seconds: 2 });
  const levelDb = (seconds: number) => {
    const window = left.subarray(Math.round((seconds - 0.002) * RATE), Math.round((seconds + 0.002) * RATE));
    return decibels(Math.max(...window.map(Math.abs)));
  };
  expect(levelDb(0.05)).toBeCloseTo(-6, 0);
  expect(levelDb(0.1)).toBeCloseTo(0, 0);
  // 5 % of the way is left at the end of the decay.
  expect(levelDb(0.4)).toBeCloseTo(decibels(0.251 + 0.05 * 0.749), 0);
  expect(levelDb(1.5)).toBeCloseTo(-72, 0);
});

it('makes no click when notes are stolen: no step larger than those of the tone itself', () => {
  const patch = plainPatch('sine');
  const notes = Array.from({ length: POLYPHONY + 12 }, (_, i) => note(i * 0.01, 5, 45, 20));
  const [left] = renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 0.6 });
  let step = 0;
  for (let i = 1; i < left.length; i++) step = Math.max(step, Math.abs(left[i] - left[i - 1]));
  const single = 0.04 * 2 * Math.PI * (110 / RATE);
  expect(step).toBeLessThan(POLYPHONY * single + 0.04 / (0.0007 * RATE));
});

it('goes on smoothly when a value of the patch changes while a note sounds', () => {
  const patch = plainPatch('sine');
  const engine = createEngine({ sampleRateHz: RATE }, patch, NO_RESOURCES);
  engine.schedule({ kind: 'noteOn', frame: 0, noteId: 1, midi: 45, velocity: 100 });
  const left = new Float32Array(8192);
  engine.process(left, new Float32Array(8192), 0, 4096);
  patch.layers[0].sources[0].levelDb = -20;
  engine.setPatch(structuredClone(patch), NO_RESOURCES);
  engine.process(left, new Float32Array(8192), 4096, 4096);
  let step = 0;
  for (let i = 4000; i < 4300; i++) step = Math.max(step, Math.abs(left[i] - left[i - 1]));
  expect(step).toBeLessThan(0.05);
  expect(Math.max(...left.subarray(6000))).toBeCloseTo(0.1, 2);
});

it('keeps a held note sounding when the structure of the patch changes', () => {
  const engine = createEngine({ sampleRateHz: RATE }, plainPatch('sine'), NO_RESOURCES);
  engine.schedule({ kind: 'noteOn', frame: 0, noteId: 1, midi: 45, velocity: 100 });
  const left = new Float32Array(8192);
  engine.process(left, new Float32Array(8192), 0, 4096);
  engine.setPatch(plainPatch('triangle'), NO_RESOURCES);
  engine.process(left, new Float32Array(8192), 4096, 4096);
  expect(Math.max(...left.subarray(6000))).toBeGreaterThan(0.5);
  engine.schedule({ kind: 'cutOff', frame: 0 });
  engine.process(left, new Float32Array(8192), 0, 4096);
  expect(Math.max(...left.subarray(2000, 4096).map(Math.abs))).toBe(0);
  expect(engine.soundingVoices).toBe(0);
});

it('never gives NaN, infinity, constants or peaks over +12 dBFS, whatever the parameters of random patches', () => {
  const seeds = Array.from({ length: 15 }, (_, i) => 1 + i);
  for (const seed of rowsOf(seeds, 6)) expect(checkRandomPatches(seed, 1)).toEqual([]);
});
