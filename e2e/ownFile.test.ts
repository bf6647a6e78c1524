import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { writeWav } from '@imprint/core/formats/wav';
import { type Bench, dragCut, overallJnd, root, startBench } from './support';
import { some, thorough } from '../packages/core/test/thorough';

let bench: Bench;
/** The same for all: what one opened is closed by leaving it. */
let page: Page;
beforeAll(async () => {
  bench = await startBench({ demo: false, worker: true });
  page = await bench.open();
});
beforeEach(() => page.goto(bench.server.url));
afterAll(() => bench.close());

const RATE = 48000;

/** A square-like pluck of 196 Hz at half a second, in three seconds of near silence. */
function pluck(): Uint8Array {
  const signal = new Float32Array(3 * RATE);
  for (let i = 0; i < signal.length; i++) {
    const t = i / RATE - 0.5;
    if (t < 0) continue;
    for (let n = 1; n < 60; n += 2)
      signal[i] += (0.3 * Math.exp(-t * (3 + 0.4 * n)) * Math.sin(2 * Math.PI * 196 * n * t)) / n;
  }
  return writeWav({ channels: [signal], sampleRateHz: RATE }, 'int24');
}

const choose = (name: string, bytes: Uint8Array) =>
  page.getByLabel('Reference file').setInputFiles({ name, mimeType: 'audio/wav', buffer: Buffer.from(bytes) });

thorough.it('rebuilds a tone from a file of one’s own', async () => {
  await page.getByText('No study yet').waitFor();
  await choose('Tin cup.wav', pluck());
  await page.waitForURL('**/listen');
  await page.getByText('Drag over a note in the waveform').waitFor();
  await dragCut(page, 0.45 / 3, 2.6 / 3);
  await page.getByRole('button', { name: 'Match the cut' }).click();
  await page.getByRole('region', { name: 'Candidates' }).waitFor();
  await page.keyboard.press('2');
  expect(await page.getByRole('region', { name: 'Pitch' }).innerText()).toContain('G3');
  expect(await page.getByRole('region', { name: 'Partials' }).innerText()).toContain('hollow');
  expect(await overallJnd(page)).toBeLessThan(3);
  await page.goto(`${bench.server.url}/`);
  await page.getByRole('link', { name: 'Tin cup' }).waitFor();

  // The same file again opens the study that is there.
  await choose('copy of it.wav', pluck());
  await page.getByText('This file is here already').waitFor();
  await page.waitForURL('**/listen');
  await page.getByTestId('cut-Cut 1').waitFor();
});

it('takes a file that is dropped on the page', async () => {
  await page.getByText('anywhere. It stays on this machine').waitFor();
  const base64 = Buffer.from(pluck().slice(0, -600)).toString('base64');
  // A dropped file is made in the page, where the drop happens. Its last samples and its length differ:
  // another file.
  await page.evaluate(async (data) => {
    const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
    const view = new DataView(bytes.buffer);
    view.setUint32(4, bytes.length - 8, true);
    view.setUint32(40, bytes.length - 44, true);
    const transfer = new DataTransfer();
    transfer.items.add(new File([bytes], 'dropped.wav', { type: 'audio/wav' }));
    const target = document.querySelector('header')!;
    for (const type of ['dragenter', 'dragover', 'drop']) {
      target.dispatchEvent(new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }));
    }
  }, base64);
  await page.waitForURL('**/listen');
  await page.getByRole('heading', { name: 'dropped' }).waitFor();
});

some(1).it.each(['tone.flac', 'tone.aiff', 'tone.mp3', 'tone.ogg', 'tone.opus'])(
  'opens %s, and renames its study',
  async (name) => {
    const bytes = readFileSync(join(root, 'packages/core/test/sounds', name));
    await page.getByLabel('Reference file').setInputFiles({ name, mimeType: 'audio/x-any', buffer: bytes });
    await page.waitForURL('**/listen');
    await page.getByRole('img', { name: 'Waveform of the reference' }).waitFor();
    await page.getByText('Drawing the spectrogram').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'tone', exact: true }).click();
    await page.getByLabel('Name of the study').fill(`Bell ${name}`);
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: `Bell ${name}` }).waitFor();
  },
);

describe('Bad files are refused with a clear message, and nothing is lost', () => {
  const sine = (seconds: number, rate = 8000) =>
    Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => 0.3 * Math.sin(i / 5));
  some(1).it.each([
    ['no sound', 'letter.wav', new TextEncoder().encode('Dear keeper, the lamp is out.'), 'not a sound file'],
    ['empty', 'empty.wav', new Uint8Array(0), 'is empty'],
    ['truncated', 'half.wav', pluck().subarray(0, 50000), 'is truncated'],
    [
      'silent',
      'silent.wav',
      writeWav({ channels: [new Float32Array(8000)], sampleRateHz: 8000 }, 'int16'),
      'is silent',
    ],
    [
      'too long',
      'long.wav',
      writeWav({ channels: [sine(15 * 60 + 5)], sampleRateHz: 8000 }, 'int16'),
      '15.1 minutes long',
    ],
  ])('%s', async (_kind, name, bytes, message) => {
    const list = page.getByRole('row');
    await page.getByRole('link', { name: 'dropped' }).waitFor();
    const before = await list.count();
    await choose(name, bytes);
    const alert = page.getByRole('alert');
    await alert.waitFor();
    expect(await alert.innerText()).toContain(name);
    expect(await alert.innerText()).toContain(message);
    await page.reload();
    await page.getByRole('link', { name: 'dropped' }).waitFor();
    expect(await list.count()).toBe(before);
  });
});
