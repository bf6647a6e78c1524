import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { tmpdir } from 'node:os';
import type { Page } from 'playwright-core';
import {
  type Bench,
  addTone,
  beginEmpty,
  downloaded,
  dragCut,
  heardFor,
  overallJnd,
  recorded,
  startBench,
  until,
} from './support';
import { some, thorough } from '../packages/core/test/thorough';

let bench: Bench;
let page: Page;
/** The study that is worked on. */
let id: string;

beforeAll(async () => {
  bench = await startBench({ demo: false });
  page = await bench.open();
  await addTone(bench, page, 'Foghorn', 110);
  await addTone(bench, page, 'Ship’s bell', 440);
  id = /studies\/([^/]+)/.exec(page.url())![1];
  await dragCut(page, 0.05, 0.95);
  await beginEmpty(page);
  await page.keyboard.press('2');
  await saved(page);
});
afterAll(() => bench.close());

const api = async (path: string) => (await fetch(`${bench.server.url}/api${path}`)).json() as Promise<unknown>;

/** Whether the first layer sounds, in the patch that the server has. */
async function isOnThere(): Promise<boolean> {
  const { patch } = (await api(`/studies/${id}`)) as { patch: { patch: { layers: { on: boolean }[] } } };
  return patch.patch.layers[0].on;
}

const layerSwitch = (target: Page) => target.getByRole('navigation', { name: 'Layer' }).getByRole('checkbox').first();
const saving = (target: Page) => target.getByTestId('saving');
const saved = (target: Page) =>
  saving(target)
    .getByText(/^saved$/)
    .waitFor();

async function openBuild(target: Page): Promise<void> {
  await target.goto(`${bench.server.url}/studies/${id}/build`);
  await layerSwitch(target).waitFor();
  await saved(target);
}

describe('An edit is there', () => {
  const leavings: [string, (target: Page) => Promise<unknown>][] = [
    ['the study is left', (target) => target.getByRole('link', { name: /all studies/ }).click()],
    ['the page is reloaded', (target) => target.reload()],
    ['the page goes elsewhere', (target) => target.goto('about:blank')],
    ['the page is closed', (target) => target.close({ runBeforeUnload: true })],
  ];
  some(1).it.each(leavings)('when %s at once', async (_name, leave) => {
    const own = await page.context().newPage();
    await openBuild(own);
    const before = await isOnThere();
    await layerSwitch(own).click();
    await leave(own);
    await until(async () => (await isOnThere()) !== before);
    if (!own.isClosed()) await own.close();
  });

  it('when the server was away meanwhile, and after a reload', async () => {
    const own = await page.context().newPage();
    await openBuild(own);
    const before = await isOnThere();
    await bench.stop();
    await layerSwitch(own).click();
    await saving(own).getByText('not saved, kept in this browser').waitFor();
    await own.getByRole('alert').getByText('The server does not answer').waitFor();
    await bench.start();
    await saved(own);
    expect(await isOnThere()).toBe(!before);
    // The notice goes as well.
    await own.getByText('The server does not answer').waitFor({ state: 'detached' });

    await bench.stop();
    await layerSwitch(own).click();
    await saving(own).getByText('not saved, kept in this browser').waitFor();
    await own.close();
    await bench.start();
    // Any page of this browser sends it.
    const other = await page.context().newPage();
    await other.goto(bench.server.url);
    await until(async () => (await isOnThere()) === before);
    await other.close();
  });
});

thorough.describe('Two windows', () => {
  let other: Page;
  beforeAll(async () => {
    await openBuild(page);
    other = await bench.open();
    await openBuild(other);
  });
  afterAll(() => other.context().close());

  it('know of each other, and show what the other saved', async () => {
    await other.getByText('This study is open in another window, too.').waitFor();
    const before = await layerSwitch(page).isChecked();
    await layerSwitch(other).click();
    await saved(other);
    await page.getByRole('button', { name: 'Show it here' }).click();
    await until(async () => (await layerSwitch(page).isChecked()) !== before);
    await saved(page);
  });

  /**
   * Changes the patch here when the other window has saved it twice, so that its last state is as it was and
   * this one's differs. Returns what it was.
   */
  async function changeBoth(): Promise<boolean> {
    const before = await layerSwitch(page).isChecked();
    for (let i = 0; i < 2; i++) {
      await layerSwitch(other).click();
      await saved(other);
    }
    await layerSwitch(page).click();
    return before;
  }

  it.each([
    ['Take theirs', (theirs: boolean) => theirs],
    ['Keep mine in its place', (theirs: boolean) => !theirs],
  ])('that change the same patch: %s', async (choice, expected) => {
    const before = await changeBoth();
    const dialog = page.getByRole('dialog', { name: 'The patch was changed in another window' });
    await dialog.getByRole('button', { name: choice }).click();
    await saved(page);
    expect(await isOnThere()).toBe(expected(before));
    expect(await layerSwitch(page).isChecked()).toBe(expected(before));
    await openBuild(other);
  });

  it('that change the same patch: mine as a copy', async () => {
    const before = await changeBoth();
    await page.getByRole('button', { name: 'Keep mine as a copy of the study' }).click();
    await page.getByRole('button', { name: 'Open it' }).click();
    await page.getByRole('heading', { name: 'Ship’s bell, mine' }).waitFor();
    await layerSwitch(page).waitFor();
    expect(await layerSwitch(page).isChecked()).toBe(!before);
    expect(await isOnThere()).toBe(before);
  });
});

describe('The trash', () => {
  it('gives a study back at once or later', async () => {
    await page.goto(bench.server.url);
    const link = page.getByRole('link', { name: 'Foghorn' });
    await page.getByRole('button', { name: 'Delete Foghorn' }).click();
    await link.waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Undo' }).click();
    await link.waitFor();
    await page.getByRole('button', { name: 'Delete Foghorn' }).click();
    await link.waitFor({ state: 'detached' });
    await page.getByRole('link', { name: 'Trash and archive' }).click();
    await page.getByText('Study, 30 days left').waitFor();
    await page.getByRole('button', { name: 'Put back' }).click();
    await page.getByText('Nothing in it.').waitFor();
    await page.getByRole('link', { name: 'All studies' }).click();
    await link.waitFor();
  });
});

describe('An archive', () => {
  const folder = mkdtempSync(join(tmpdir(), 'imprint-archive-'));
  afterAll(() => rmSync(folder, { recursive: true }));
  /** The middle of the cut as it is heard: what the patch plays. */
  const heard = async () => {
    await page.goto(`${bench.server.url}/studies/${id}/build`);
    await overallJnd(page);
    await page.keyboard.press('f');
    await page.keyboard.press('Space');
    await heardFor(page, 0.4);
    // Twice round the cut, so that it does not matter where in it the recording begins.
    const { channels } = await recorded(page, () => heardFor(page, 4.1));
    await page.keyboard.press('Space');
    return Math.sqrt(channels[0].reduce((sum, x) => sum + x * x, 0) / channels[0].length);
  };

  thorough.it('is written and brought back on the page; the studies are the same and sound the same', async () => {
    const before = await heard();
    expect(before).toBeGreaterThan(1e-3);
    await page.goto(`${bench.server.url}/keeping`);
    const { name, bytes } = await downloaded(page, () => page.getByRole('link', { name: 'Export everything' }).click());
    expect(name).toMatch(/^imprint-.*\.tar$/);
    const file = join(folder, name);
    writeFileSync(file, bytes);
    const studies = await api('/studies');
    for (const study of studies as { id: string }[])
      await fetch(`${bench.server.url}/api/studies/${study.id}`, { method: 'DELETE' });
    await fetch(`${bench.server.url}/api/trash`, { method: 'DELETE' });
    expect(await api('/studies')).toEqual([]);

    await page.getByLabel('Archive file').setInputFiles(file);
    await page.getByRole('button', { name: 'Bring it back', exact: true }).click();
    await page.getByText(/^Brought back \d+ studies/).waitFor();
    expect(await api('/studies')).toEqual(studies);
    const after = await heard();
    // Recordings of a loop that begin and end anywhere in it are as loud as that.
    expect(Math.abs(20 * Math.log10(after / before))).toBeLessThan(1);
  });

  thorough.it('that is none is refused in words, and can be had back after one was taken for another', async () => {
    await page.goto(`${bench.server.url}/keeping`);
    const file = join(folder, 'letter.tar');
    writeFileSync(file, 'Dear keeper');
    await page.getByLabel('Archive file').setInputFiles(file);
    await page.getByRole('button', { name: 'Bring it back', exact: true }).click();
    await page.getByRole('alert').getByText('This is no archive of Imprint').waitFor();
    await page.getByRole('button', { name: 'Change the two' }).click();
    await until(async () => ((await api('/studies')) as unknown[]).length === 0);
    await page.getByRole('button', { name: 'Change the two' }).click();
    await until(async () => ((await api('/studies')) as unknown[]).length > 0);
  });
});
