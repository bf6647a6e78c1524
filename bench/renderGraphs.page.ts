import { type PhraseNote, renderPatch } from '@imprint/core/engine/render';
import { prepareResources } from '@imprint/core/engine/program/resources';
import { emptyPatch } from '@imprint/core/patch/defaults';
import type { Patch } from '@imprint/core/patch/schema';
import { filterSchema } from '../packages/core/src/patch/schemas/shapingSchema';
import { interactionSchema, sourceSchema } from '@imprint/core/patch/schemas/sourceSchema';
import { wavetableFromSamples } from '@imprint/core/patch/contents/wavetableFrames';

const RATE_HZ = 44100;
const FRAME = 2048;
const PARTIALS = 64;

/** The same sounds by our engine and by the browser's own nodes. */
interface Graph {
  patch: () => Patch;
  notes: (seconds: number) => PhraseNote[];
  native: (context: OfflineAudioContext) => void;
}

const SAWS = 16;
const SPREAD_CENTS = 30;
const FM_VOICES = 8;
const FM_INDEX = 3;
const TABLE_VOICES = 16;

const held = (midi: number, seconds: number) => ({ onsetSeconds: 0, durationSeconds: seconds, midi, velocity: 60 });
const hz = (midi: number) => 440 * 2 ** ((midi - 69) / 12);
const midis = (count: number) => Array.from({ length: count }, (_, i) => 40 + 2 * i);
const lowpass = (cutoffHz: number, slopeDbPerOctave: 12 | 24) =>
  filterSchema.parse({ kind: 'lowpass', id: 'filter-1', cutoffHz, slopeDbPerOctave });

const graphs: Record<string, Graph> = {
  '16 saws and a low-pass': {
    patch: () => {
      const patch = emptyPatch();
      const [layer] = patch.layers;
      Object.assign(layer.sources[0], { unisonVoices: SAWS, unisonDetuneCents: SPREAD_CENTS });
      layer.filters[0] = lowpass(2000, 24);
      return patch;
    },
    notes: (seconds) => [held(45, seconds)],
    native: (context) => {
      const filters = [0, 1].map(() => new BiquadFilterNode(context, { type: 'lowpass', frequency: 2000 }));
      filters[0].connect(filters[1]).connect(context.destination);
      for (let i = 0; i < SAWS; i++) {
        const detune = (i / (SAWS - 1) - 0.5) * SPREAD_CENTS;
        const oscillator = new OscillatorNode(context, { type: 'sawtooth', frequency: 110, detune });
        oscillator.connect(new GainNode(context, { gain: 0.05 })).connect(filters[0]);
        oscillator.start();
      }
    },
  },
  '8 FM pairs': {
    patch: () => {
      const patch = emptyPatch();
      const [layer] = patch.layers;
      layer.filters[0].on = false;
      layer.sources = [
        sourceSchema.parse({ kind: 'shape', id: 'carrier', shape: 'sine' }),
        sourceSchema.parse({ kind: 'shape', id: 'modulator', shape: 'sine', levelDb: -96, tuning: 'ratio', ratio: 2 }),
      ];
      layer.interactions = [
        interactionSchema.parse({ kind: 'fm', id: 'fm', from: 'modulator', to: 'carrier', index: FM_INDEX }),
      ];
      return patch;
    },
    notes: (seconds) => midis(FM_VOICES).map((midi) => held(midi, seconds)),
    native: (context) => {
      for (const midi of midis(FM_VOICES)) {
        const carrier = new OscillatorNode(context, { frequency: hz(midi) });
        const modulator = new OscillatorNode(context, { frequency: 2 * hz(midi) });
        const deviation = new GainNode(context, { gain: FM_INDEX * 2 * hz(midi) });
        modulator.connect(deviation).connect(carrier.frequency);
        carrier.connect(new GainNode(context, { gain: 0.1 })).connect(context.destination);
        carrier.start();
        modulator.start();
      }
    },
  },
  '16 wavetable voices with two filters': {
    patch: () => {
      const patch = emptyPatch();
      const [layer] = patch.layers;
      const frame = Float32Array.from({ length: FRAME }, (_, i) => {
        let y = 0;
        for (let n = 1; n <= PARTIALS; n++) y += Math.sin((2 * Math.PI * n * i) / FRAME) / n;
        return 0.5 * y;
      });
      patch.wavetables = [wavetableFromSamples('table', 'Table', frame)];
      layer.sources = [sourceSchema.parse({ kind: 'wavetable', id: 'source-1', wavetableId: 'table' })];
      layer.filters = [
        lowpass(2000, 12),
        filterSchema.parse({ kind: 'highpass', id: 'filter-2', cutoffHz: 100, slopeDbPerOctave: 12 }),
      ];
      return patch;
    },
    notes: (seconds) => midis(TABLE_VOICES).map((midi) => held(midi, seconds)),
    native: (context) => {
      const real = new Float32Array(PARTIALS + 1);
      const imag = Float32Array.from(real, (_, n) => (n === 0 ? 0 : 0.5 / n));
      const periodicWave = new PeriodicWave(context, { real, imag, disableNormalization: true });
      for (const midi of midis(TABLE_VOICES)) {
        const oscillator = new OscillatorNode(context, { frequency: hz(midi), periodicWave });
        const low = new BiquadFilterNode(context, { type: 'lowpass', frequency: 2000 });
        const high = new BiquadFilterNode(context, { type: 'highpass', frequency: 100 });
        oscillator
          .connect(low)
          .connect(high)
          .connect(new GainNode(context, { gain: 0.05 }))
          .connect(context.destination);
        oscillator.start();
      }
    },
  },
};

/** Runs in a page: each graph by both, in turn. Milliseconds a round. */
async function renderGraphs(
  seconds: number,
  rounds: number,
  only?: string,
): Promise<Record<string, { ours: number; native: number }[]>> {
  const results: Record<string, { ours: number; native: number }[]> = {};
  for (const [name, graph] of Object.entries(graphs)) {
    if (only && !name.includes(only)) continue;
    results[name] = [];
    for (let i = 0; i < rounds; i++) {
      results[name].push({ ours: timeOurs(graph, seconds), native: await timeNative(graph, seconds) });
    }
  }
  return results;
}

function timeOurs(graph: Graph, seconds: number): number {
  const patch = graph.patch();
  const resources = prepareResources(patch);
  const start = performance.now();
  renderPatch({ patch, notes: graph.notes(seconds), sampleRateHz: RATE_HZ, seconds, resources });
  return performance.now() - start;
}

async function timeNative(graph: Graph, seconds: number): Promise<number> {
  const context = new OfflineAudioContext(2, seconds * RATE_HZ, RATE_HZ);
  graph.native(context);
  const start = performance.now();
  await context.startRendering();
  return performance.now() - start;
}

Object.assign(globalThis, { renderGraphs });
