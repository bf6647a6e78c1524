import { fileURLToPath } from 'node:url';
import { buildSync } from 'esbuild';
import { launchChromium } from '../scripts/chromium';

/**
 * Bundles a file of this folder into an empty page of headless Chromium and returns what an expression gives
 * there.
 */
export async function evaluateInChromium<T>(file: string, expression: string): Promise<T> {
  const entry = fileURLToPath(new URL(file, import.meta.url));
  const { outputFiles } = buildSync({ entryPoints: [entry], bundle: true, write: false, format: 'iife' });
  const browser = await launchChromium();
  try {
    const page = await browser.newPage();
    await page.addScriptTag({ content: outputFiles[0].text });
    return await page.evaluate(expression);
  } finally {
    await browser.close();
  }
}
