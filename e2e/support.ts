import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Download, Page } from 'playwright-core';
import { readWav, writeWav } from '@imprint/core/formats/wav';
import type { Audio } from '@imprint/core/reading/audio';
import { type TestServer, createDatabase, startServer, startWorker } from '../packages/server/test/testServer';
import { harmonicTone, saw } from '../packages/core/test/signals';
import { launchChromium } from '../scripts/chromium';

export { largestStep } from '../packages/core/test/signals';

export const root = join(import.meta.dirname, '..');

/** Other tests run beside these. */
const LONGEST_WAIT_MS = 120_000;

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

/** The real server on a database of its own, a browser, and a worker for matches where one is wanted. */
export async function startBench({ demo = true, worker = false } = {}): Promise<Bench> {
  const database = await createDatabase();
  const environment = {
    WEB_FOLDER: join(root, 'packages/web/dist'),
    ...(demo ? { DEMO_FOLDER: join(root, 'demo/audio') } : {}),
  };
  let server = await startServer(database.url, environment);
  const [browser, working] = await Promise.all([launchChromium(), worker ? startWorker(database.url) : undefined]);
  return {
    get server() {
      return server;
    },
    browser,
    async open(path = '/') {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
      context.setDefaultTimeout(LONGEST_WAIT_MS);
      await context.addInitScript(keepAudioContext);
      const page = await context.newPage();
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
      await working?.stop();
      await server.stop();
      await database.drop();
    },
  };
}

declare global {
  interface Window {
    audioContext?: AudioContext;
    /** When a key was struck, by the audio thread's clock. */
    tapped?: number[];
  }
}

/** In the page, before its own scripts: the audio context that was opened last is kept in sight. */
function keepAudioContext(): void {
  const Plain = window.AudioContext;
  window.AudioContext = class extends Plain {
    constructor(options?: AudioContextOptions) {
      super(options);
      window.audioContext = this;
    }
  };
}

/**
 * Waits as long as sound of so many seconds is made. The audio thread's own clock: on a busy machine it falls
 * behind the one on the wall, and what is played and recorded goes by it. It stands while nothing is to be
 * heard, unless something waits for it.
 */
export const heardFor = async (page: Page, seconds: number): Promise<void> => (await audioClock(page)).until(seconds);

/** In the page: whether the audio thread has come to a time; it goes on until it has. */
function goneOn(time: number): boolean {
  if (window.audioContext!.currentTime >= time) return true;
  void window.audioContext!.resume();
  return false;
}

/** The audio thread's clock from now on, for what happens at several times of one recording. */
export async function audioClock(page: Page): Promise<{ until(seconds: number): Promise<void> }> {
  const started = await page.evaluate(() => window.audioContext!.currentTime);
  return {
    async until(seconds) {
      const options = { polling: 10 };
      await page.waitForFunction(goneOn, started + seconds, options);
    },
  };
}

/** Opens a study from the list and waits until its reference is there. */
export async function openStudy(page: Page, title: string): Promise<void> {
  await page.getByRole('link', { name: title }).click();
  await page.getByTestId('cut-overlay').waitFor();
}

/**
 * Opens a study of a second of a saw: it is printed and read at once, where nothing hangs on what the
 * reference is.
 */
export async function addTone(bench: Bench, page: Page, name: string, f0Hz: number): Promise<void> {
  const sampleRateHz = 44100;
  const envelope = (seconds: number) => Math.max(0, Math.min(1, 100 * (seconds - 0.1), 10 * (0.9 - seconds)));
  const signal = harmonicTone({ f0Hz, sampleRateHz, amplitude: saw, envelope });
  const buffer = Buffer.from(writeWav({ channels: [signal], sampleRateHz }, 'int16'));
  await page.goto(bench.server.url);
  await page.getByLabel('Reference file').setInputFiles({ name: `${name}.wav`, mimeType: 'audio/wav', buffer });
  await page.waitForURL('**/listen');
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

/** Begins a match of the chosen cut from Listen and waits until it has a candidate, which is heard then. */
export async function matchCut(page: Page): Promise<void> {
  await page.keyboard.press('Enter');
  await page.waitForURL('**/match');
  await page.getByRole('region', { name: 'Candidates' }).waitFor();
}

/** Measures the chosen cut and begins with an empty patch, without a match. */
export async function beginEmpty(page: Page): Promise<void> {
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'Measure only' }).click();
  await page.getByRole('button', { name: 'Start from an empty patch' }).click();
  await overallJnd(page);
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

/** What `slowness` counts, on the machine that the figures of docs/METHODS.md are from. */
const USUAL_MS = 26;

/** How many times as long as usual this machine takes now for what a page computes; 1 when it is faster. */
export async function slowness(page: Page): Promise<number> {
  const milliseconds = await page.evaluate(() => {
    const once = () => {
      const started = performance.now();
      for (let i = 0, x = 1; i < 3e6; i++) x = Math.sqrt(x + i);
      return performance.now() - started;
    };
    return Math.min(once(), once(), once(), once(), once());
  });
  return Math.max(1, milliseconds / USUAL_MS);
}

/** Waits for something that comes about sooner or later. */
export async function until(done: () => Promise<boolean>): Promise<void> {
  for (let waited = 0; waited < LONGEST_WAIT_MS; waited += 50) {
    if (await done()) return;
    await pause(50);
  }
  throw new Error('This did not come about in time.');
}

export const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));
