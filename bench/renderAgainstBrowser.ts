import { fileURLToPath } from 'node:url';
import { buildSync } from 'esbuild';
import { launchChromium } from '../scripts/chromium';

const SECONDS = 10;
const ROUNDS = 5;

/**
 * One note of 16 detuned saws through a 24 dB low-pass: by our engine, and by Chromium's own nodes in an OfflineAudioContext,
 * both in the same browser, in turn. Best rounds, in seconds of work per second of sound, and their ratio.
 */
export async function renderAgainstBrowser(): Promise<{ ours: number; native: number; ratio: number }> {
  const entry = fileURLToPath(new URL('./renderGraphs.page.ts', import.meta.url));
  const { outputFiles } = buildSync({ entryPoints: [entry], bundle: true, write: false, format: 'iife' });
  const browser = await launchChromium();
  const page = await browser.newPage();
  await page.addScriptTag({ content: outputFiles[0].text });
  const rounds = (await page.evaluate(`renderGraphs(${SECONDS}, ${ROUNDS})`)) as { ours: number; native: number }[];
  await browser.close();
  const best = (key: 'ours' | 'native') => Math.min(...rounds.map((round) => round[key])) / 1000 / SECONDS;
  return { ours: best('ours'), native: best('native'), ratio: best('ours') / best('native') };
}
