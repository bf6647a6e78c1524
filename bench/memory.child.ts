/**
 * Counts what the engine allocates, in a process that collects no garbage meanwhile; prints a line per patch.
 */
import { createEngine } from '@imprint/core/engine/engine';
import { prepareResources } from '@imprint/core/engine/program/resources';
import type { Patch } from '@imprint/core/patch/schema';
import { filterSchema, shaperSchema } from '../packages/core/src/patch/schemas/shapingSchema';
import { interactionSchema } from '@imprint/core/patch/schemas/sourceSchema';
import { wavetableFromSamples } from '@imprint/core/patch/contents/wavetableFrames';
import { lfo, plainPatch, route, sourcePatch } from '../packages/core/test/patches';
import { createRandom } from '../packages/core/test/signals';

const RATE_HZ = 44100;
const BLOCK = 128;
const WARM_UP_BLOCKS = 20_000;
const BLOCKS = 10_000;
const NOTES = 500;
const WARM_UP_NOTES = 3000;
const BLOCKS_A_NOTE = 20;

const filter = (kind: string, id: string, fields: Record<string, unknown> = {}) =>
  filterSchema.parse({ kind, id, ...fields });

const patches: Record<string, () => Patch> = {
  'eight saws and a low-pass': () => {
    const patch = plainPatch('saw', { unisonVoices: 8, unisonDetuneCents: 20 });
    patch.layers[0].filters[0] = filter('lowpass', 'filter-1', { cutoffHz: 2000, slopeDbPerOctave: 24 });
    return patch;
  },
  'drifting saws under two moving filters': () => {
    const patch = plainPatch('saw', { unisonVoices: 4, unisonDetuneCents: 20, unisonSpread: 50, driftCents: 3 });
    const [layer] = patch.layers;
    layer.filters = [
      filter('lowpass', 'filter-1', { cutoffHz: 2000, slopeDbPerOctave: 24 }),
      filter('ladder', 'filter-2', { cutoffHz: 3000, resonance: 60, mix: 80, keyTracking: 50 }),
    ];
    layer.modulators = [lfo('lfo-1', { rateHz: 5 })];
    layer.routes = [
      route('lfo-1', 'source-1', 'semitones', 0.3, { polarity: 'bipolar' }),
      route('lfo-1', 'filter-1', 'cutoffHz', 1, { polarity: 'bipolar' }),
    ];
    return patch;
  },
  'FM of a sine by a saw': () => {
    const patch = sourcePatch(
      { kind: 'shape', shape: 'sine' },
      { kind: 'shape', shape: 'saw', levelDb: -96, tuning: 'ratio', ratio: 2 },
    );
    patch.layers[0].interactions = [
      interactionSchema.parse({ kind: 'fm', id: 'fm-1', from: 'source-2', to: 'source-1', index: 3 }),
    ];
    return patch;
  },
  'moving wavetable, synced pulse, noise, comb, vowel and shaper': () => {
    const patch = sourcePatch(
      { kind: 'wavetable', wavetableId: 'table-1', unisonVoices: 3, unisonDetuneCents: 10 },
      { kind: 'shape', shape: 'pulse', phaseShape: 'hardSync', syncSemitones: 7, levelDb: -6 },
      { kind: 'noise', levelDb: -20, slopeDbPerOctave: -3 },
    );
    const random = createRandom(1);
    patch.wavetables = [
      wavetableFromSamples(
        'table-1',
        'Table',
        Float32Array.from({ length: 8192 }, () => random() - 0.5),
      ),
    ];
    const [layer] = patch.layers;
    layer.filters = [filter('comb', 'filter-1'), filter('formant', 'filter-2')];
    layer.shaper = shaperSchema.parse({ id: 'shaper', on: true, curve: 'tube', driveDb: 12 });
    layer.modulators = [lfo('lfo-1', { rateHz: 3 }), lfo('lfo-2', { rateHz: 2, shape: 'randomCurve', smoothing: 40 })];
    layer.routes = [
      route('lfo-1', 'source-1', 'position', 40),
      route('lfo-1', 'source-2', 'syncSemitones', 5),
      route('lfo-2', 'filter-2', 'vowel', 1),
      route('lfo-2', 'shaper', 'driveDb', 6),
    ];
    return patch;
  },
};

const left = new Float32Array(BLOCK);
const right = new Float32Array(BLOCK);
const collect = (globalThis as unknown as { gc: () => void }).gc;

for (const [name, make] of Object.entries(patches)) {
  const patch = make();
  const engine = createEngine({ sampleRateHz: RATE_HZ }, patch, prepareResources(patch));
  const run = (blocks: number) => {
    for (let i = 0; i < blocks; i++) engine.process(left, right, 0, BLOCK);
  };
  const notes = (count: number) => {
    for (let n = 0; n < count; n++) {
      engine.schedule({ kind: 'noteOn', frame: engine.frame, noteId: n, midi: 45, velocity: 100 });
      run(BLOCKS_A_NOTE);
      engine.schedule({ kind: 'noteOff', frame: engine.frame, noteId: n });
    }
  };
  /** Bytes that something takes, by the growth of a heap in which nothing is collected. */
  const bytesOf = (work: () => void) => {
    collect();
    const before = process.memoryUsage().heapUsed;
    work();
    return process.memoryUsage().heapUsed - before;
  };
  notes(WARM_UP_NOTES);
  const perNote = bytesOf(() => notes(NOTES)) / NOTES;
  engine.schedule({ kind: 'noteOn', frame: engine.frame, noteId: -1, midi: 45, velocity: 100 });
  run(WARM_UP_BLOCKS);
  const perBlock = bytesOf(() => run(BLOCKS)) / BLOCKS;
  console.log(`memory, ${name}: ${perBlock.toFixed(1)} bytes a block while held, ${Math.round(perNote)} bytes a note`);
}
