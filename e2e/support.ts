import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Download, Page } from 'playwright-core';
import { readWav } from '@imprint/core/formats/wav';
import type { Audio } from '@imprint/core/reading/audio';
import { type TestServer, createDatabase, startServer } from '../packages/server/test/testServer';
import { launchChromium } from '../scripts/chromium';

export { largestStep } from '../packages/core/test/signals';

export const root = join(__dirname, '..');

export interface Bench {
  server: TestServer;
  browser: Browser;
  /** A page at 1280 × 800 that fails the test when it reports an error. */
  open(path?: string): Promise<Page>;
  /** Stops the server. */
  stop(): Promise<void>;
  /** Starts it again on the same database, at the same address. */
  start(): Promise<void>;
  close(): Promise<void>;
}

/** The real server on a database of its own, and a browser. */
export async function startBench({ demo = true } = {}): Promise<Bench> {
  const database = await createDatabase();
  const environment = {
    WEB_FOLDER: join(root, 'packages/web/dist'),
    ...(demo ? { DEMO_FOLDER: join(root, 'demo/audio') } : {}),
  };
  let server = await startServer(database.url, environment);
  const browser = await launchChromium();
  return {
    get server() {
      return server;
    },
    browser,
    async open(path = '/') {
      const page = await (
        await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true })
      ).newPage();
      page.on('pageerror', (error) => {
        throw error;
      });
      await page.goto(server.url + path);
      return page;
    },
    stop: () => server.stop(),
    async start() {
      server = await startServer(database.url, { ...environment, PORT: new URL(server.url).port });
    },
    async close() {
      await browser.close();
      await server.stop();
      await database.drop();
    },
  };
}

/** Opens a study from the list and waits until its reference is there. */
export async function openStudy(page: Page, title: string): Promise<void> {
  await page.getByRole('link', { name: title }).click();
  await page.getByTestId('cut-overlay').waitFor();
}

/** Drags over the waveform from one share of its width to another. */
export async function dragCut(page: Page, from: number, to: number): Promise<void> {
  const box = (await page.getByTestId('cut-overlay').boundingBox())!;
  const y = box.y + 0.6 * box.height;
  await page.mouse.move(box.x + from * box.width, y);
  await page.mouse.down();
  await page.mouse.move(box.x + ((from + to) / 2) * box.width, y, { steps: 4 });
  await page.mouse.move(box.x + to * box.width, y, { steps: 4 });
  await page.mouse.up();
}

/** The overall figure of the ledger, once it stands still. */
export async function overallJnd(page: Page): Promise<number> {
  await page.locator('[aria-label=Ledger] [aria-busy=false]').waitFor();
  return Number(await page.getByTestId('overall-jnd').innerText());
}

/** What an action downloads, as bytes. */
export async function downloaded(
  page: Page,
  action: () => Promise<unknown>,
): Promise<{ name: string; bytes: Uint8Array }> {
  const [download] = await Promise.all([page.waitForEvent('download'), action()]);
  return { name: download.suggestedFilename(), bytes: await bytesOf(download) };
}

async function bytesOf(download: Download): Promise<Uint8Array> {
  const folder = mkdtempSync(join(tmpdir(), 'imprint-download-'));
  const path = join(folder, 'file');
  await download.saveAs(path);
  const bytes = new Uint8Array(readFileSync(path));
  rmSync(folder, { recursive: true });
  return bytes;
}

/** Records what is heard while something is done. */
export async function recorded(page: Page, whileDoing: () => Promise<unknown>): Promise<Audio> {
  await page.getByRole('button', { name: 'Record what is heard' }).click();
  await whileDoing();
  const { bytes } = await downloaded(page, () =>
    page.getByRole('button', { name: 'Stop recording and save it' }).click(),
  );
  return readWav(bytes);
}

export const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));
