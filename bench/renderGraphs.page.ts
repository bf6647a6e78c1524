import { renderPatch } from '@imprint/core/engine/render';
import { emptyPatch } from '@imprint/core/patch/defaults';

const RATE_HZ = 44100;
const VOICES = 16;
const SPREAD_CENTS = 30;

/** Runs in a page: the same graph (16 detuned saws, a 24 dB low-pass) by both, in turn. Milliseconds a round. */
async function renderGraphs(seconds: number, rounds: number): Promise<{ ours: number; native: number }[]> {
  const results: { ours: number; native: number }[] = [];
  for (let i = 0; i < rounds; i++) results.push({ ours: timeOurs(seconds), native: await timeNative(seconds) });
  return results;
}

function timeOurs(seconds: number): number {
  const patch = emptyPatch();
  const [layer] = patch.layers;
  Object.assign(layer.sources[0], { unisonVoices: VOICES, unisonDetuneCents: SPREAD_CENTS });
  layer.filter.cutoffHz = 2000;
  const notes = [{ onsetSeconds: 0, durationSeconds: seconds, midi: 45, velocity: 100 }];
  const start = performance.now();
  renderPatch({ patch, notes, sampleRateHz: RATE_HZ, seconds });
  return performance.now() - start;
}

async function timeNative(seconds: number): Promise<number> {
  const context = new OfflineAudioContext(2, seconds * RATE_HZ, RATE_HZ);
  const filters = [0, 1].map(() => new BiquadFilterNode(context, { type: 'lowpass', frequency: 2000 }));
  filters[0].connect(filters[1]).connect(context.destination);
  for (let i = 0; i < VOICES; i++) {
    const detune = (i / (VOICES - 1) - 0.5) * SPREAD_CENTS;
    const oscillator = new OscillatorNode(context, { type: 'sawtooth', frequency: 110, detune });
    oscillator.connect(new GainNode(context, { gain: 0.05 })).connect(filters[0]);
    oscillator.start();
  }
  const start = performance.now();
  await context.startRendering();
  return performance.now() - start;
}

Object.assign(globalThis, { renderGraphs });
