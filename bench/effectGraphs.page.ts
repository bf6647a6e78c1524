import { BLOCK_SAMPLES } from '../packages/core/src/engine/sources/source';
import { type Effect } from '@imprint/core/patch/schema';
import { CHAIN_RATE_HZ, chainOf, effect } from '../packages/core/test/chains';

/** The same effect by our chain and by a node of the browser, on the same noise in stereo. */
interface EffectGraph {
  ours: () => Effect[];
  /** Connects the source to what comes out. */
  native: (context: OfflineAudioContext, source: AudioNode) => AudioNode;
}

const BANDS_HZ = [60, 150, 350, 800, 1800, 4000, 8000, 13000];
const ROOM_SECONDS = 1.8;

const graphs: Record<string, EffectGraph> = {
  'equaliser of 8 bells against biquads': {
    ours: () => [
      effect('equalizer', {
        bands: BANDS_HZ.map(() => ({ kind: 'bell' })),
        ...Object.fromEntries(
          BANDS_HZ.flatMap((hz, i) => [
            [`band${i + 1}Hz`, hz],
            [`band${i + 1}Db`, 6],
          ]),
        ),
      }),
    ],
    native: (context, source) =>
      BANDS_HZ.reduce<AudioNode>(
        (node, frequency) =>
          node.connect(new BiquadFilterNode(context, { type: 'peaking', frequency, gain: 6, Q: 0.71 })),
        source,
      ),
  },
  'delay with feedback': {
    ours: () => [effect('delay', { leftSeconds: 0.375, rightSeconds: 0.375, feedback: 40, mix: 50 })],
    native: (context, source) => {
      const delay = new DelayNode(context, { delayTime: 0.375 });
      const sum = new GainNode(context, { gain: 0.5 });
      source
        .connect(delay)
        .connect(new GainNode(context, { gain: 0.4 }))
        .connect(delay);
      source.connect(sum);
      return delay.connect(sum);
    },
  },
  compressor: {
    ours: () => [
      effect('compressor', { thresholdDb: -24, ratio: 12, kneeDb: 30, attackSeconds: 0.003, releaseSeconds: 0.25 }),
    ],
    native: (context, source) => source.connect(new DynamicsCompressorNode(context)),
  },
  'drive against a wave shaper, both four times oversampled': {
    ours: () => [effect('drive', { curve: 'soft', driveDb: 12 })],
    native: (context, source) =>
      source.connect(
        new WaveShaperNode(context, {
          curve: Float32Array.from({ length: 4097 }, (_, i) => Math.tanh(4 * (i / 2048 - 1))),
          oversample: '4x',
        }),
      ),
  },
  'reverb against a convolver of as long a room': {
    ours: () => [effect('reverb', { rt60Seconds: ROOM_SECONDS, mix: 100 })],
    native: (context, source) => {
      const buffer = context.createBuffer(2, ROOM_SECONDS * CHAIN_RATE_HZ, CHAIN_RATE_HZ);
      for (const channel of [0, 1])
        buffer.copyToChannel(
          Float32Array.from(
            { length: buffer.length },
            (_, i) => (Math.random() - 0.5) * 10 ** ((-3 * i) / buffer.length),
          ),
          channel,
        );
      return source.connect(new ConvolverNode(context, { buffer }));
    },
  },
};

async function renderEffectGraphs(seconds: number, rounds: number) {
  const results: Record<string, { ours: number; native: number }[]> = {};
  const noise = Float32Array.from({ length: seconds * CHAIN_RATE_HZ }, () => 0.5 * (Math.random() - 0.5));
  for (const [name, graph] of Object.entries(graphs)) {
    results[name] = [];
    for (let i = 0; i < rounds; i++)
      results[name].push({ ours: timeOurs(graph, noise), native: await timeNative(graph, noise) });
  }
  return results;
}

function timeOurs(graph: EffectGraph, noise: Float32Array): number {
  const { step } = chainOf(...graph.ours());
  const [left, right] = [blocksOf(noise), blocksOf(noise)];
  const start = performance.now();
  for (let i = 0; i < left.length; i++) step(left[i], right[i]);
  return performance.now() - start;
}

/** A copy of a signal, cut into blocks as an engine has them. */
function blocksOf(signal: Float32Array): Float64Array[] {
  const copy = Float64Array.from(signal);
  return Array.from({ length: Math.floor(signal.length / BLOCK_SAMPLES) }, (_, i) =>
    copy.subarray(i * BLOCK_SAMPLES, (i + 1) * BLOCK_SAMPLES),
  );
}

async function timeNative(graph: EffectGraph, noise: Float32Array): Promise<number> {
  const context = new OfflineAudioContext(2, noise.length, CHAIN_RATE_HZ);
  const buffer = context.createBuffer(2, noise.length, CHAIN_RATE_HZ);
  for (const channel of [0, 1]) buffer.copyToChannel(noise.slice(), channel);
  const source = new AudioBufferSourceNode(context, { buffer });
  graph.native(context, source).connect(context.destination);
  source.start();
  const start = performance.now();
  await context.startRendering();
  return performance.now() - start;
}

Object.assign(globalThis, { renderEffectGraphs });
