/**
 * Renders one note of 16 detuned saws through a 24 dB low-pass: by our engine, and by Chromium's own nodes in an
 * OfflineAudioContext, both in the same browser, in turn. Prints seconds of work per second of sound and their ratio.
 */
import { buildSync } from 'esbuild';
import { launchChromium } from '../scripts/chromium';

const SECONDS = 10;
const ROUNDS = 5;

const { outputFiles } = buildSync({
  stdin: {
    contents: `
      import { renderPatch } from '@imprint/core/engine/render';
      import { emptyPatch } from '@imprint/core/patch/defaults';
      globalThis.engine = { renderPatch, emptyPatch };
    `,
    resolveDir: new URL('../packages/web', import.meta.url).pathname,
  },
  bundle: true,
  write: false,
  format: 'iife',
});

export async function renderAgainstBrowser() {
  const browser = await launchChromium();
  const page = await browser.newPage();
  await page.addScriptTag({ content: outputFiles[0].text });
  const rounds = await page.evaluate(async ({ seconds, rounds }) => {
    const { renderPatch, emptyPatch } = (globalThis as unknown as { engine: Engine }).engine;
    const patch = emptyPatch();
    const [layer] = patch.layers;
    Object.assign(layer.sources[0], { unisonVoices: 16, unisonDetuneCents: 30 });
    layer.filter.cutoffHz = 2000;
    const notes = [{ onsetSeconds: 0, durationSeconds: seconds, midi: 45, velocity: 100 }];

    const native = async () => {
      const context = new OfflineAudioContext(2, seconds * 44100, 44100);
      const filters = [0, 1].map(() => new BiquadFilterNode(context, { type: 'lowpass', frequency: 2000 }));
      filters[0].connect(filters[1]).connect(context.destination);
      for (let i = 0; i < 16; i++) {
        const oscillator = new OscillatorNode(context, { type: 'sawtooth', frequency: 110, detune: (i / 15 - 0.5) * 30 });
        oscillator.connect(new GainNode(context, { gain: 0.05 })).connect(filters[0]);
        oscillator.start();
      }
      const start = performance.now();
      await context.startRendering();
      return performance.now() - start;
    };
    const ours = () => {
      const start = performance.now();
      renderPatch({ patch, notes, sampleRateHz: 44100, seconds });
      return performance.now() - start;
    };
    const results: { ours: number; native: number }[] = [];
    for (let i = 0; i < rounds; i++) results.push({ ours: ours(), native: await native() });
    return results;
  }, { seconds: SECONDS, rounds: ROUNDS });
  await browser.close();
  const best = (key: 'ours' | 'native') => Math.min(...rounds.map((round) => round[key])) / 1000 / SECONDS;
  return { ours: best('ours'), native: best('native'), ratio: best('ours') / best('native') };
}

type Engine = {
  renderPatch: typeof import('@imprint/core/engine/render').renderPatch;
  emptyPatch: typeof import('@imprint/core/patch/defaults').emptyPatch;
};
