/**
 * Takes the pictures of docs/screenshots from the running demo. `npm start` first, on a data folder that
 * nobody has worked in.
 */
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright-core';
import { launchChromium } from './chromium';

const url = process.env.IMPRINT_URL ?? 'http://localhost:4180';
const folder = fileURLToPath(new URL('../docs/screenshots/', import.meta.url));
const browser = await launchChromium();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });

const shoot = async (name: string, restMs = 900) => {
  await page.waitForTimeout(restMs);
  await page.screenshot({ path: `${folder}${name}.png` });
};
const step = (key: string) => page.keyboard.press(key);

async function openStudy(target: Page, title: string): Promise<void> {
  await target.goto(url);
  await target.getByRole('link', { name: title }).click();
  await target.getByTestId('cut-overlay').waitFor();
  await target.getByText('Drawing the spectrogram').waitFor({ state: 'detached' });
}

await openStudy(page, 'Lantern stairs');
await page.getByRole('list', { name: 'Sections' }).waitFor();
await page.getByRole('button', { name: 'Measure the cut' }).click();
await page.getByTestId('note-roll').getByRole('button').first().waitFor();
await shoot('listen');
await step('Enter');
await page.waitForURL('**/match');
await page.getByRole('region', { name: 'Candidates' }).waitFor();
await page.locator('[aria-label=Ledger] [aria-busy=false]').waitFor();
await step('Space');
// A second match has more time, so that there is one to look back at.
await page.getByLabel('20 s').check();
await page.locator('body').click({ position: { x: 60, y: 500 } });
await step('Enter');
await page.getByRole('button', { name: '2 matches of this study' }).waitFor();
await page.getByRole('button', { name: 'Stop' }).waitFor({ timeout: 60_000 });
await step('u');
await page.getByText('The whole candidate').waitFor();
await page.getByText('The whole candidate').waitFor({ state: 'detached' });
await step('Space');
await page.locator('[aria-label=Ledger] [aria-busy=false]').waitFor();
await shoot('match');
await step('2');
await shoot('read');
await step('3');
await shoot('build');
await page.getByLabel('Shelf of chains, for the layer').click();
await page.getByRole('button', { name: 'Far across the water' }).click();
await shoot('chain');
await step('Control+z');
await step('5');
await page.getByRole('slider', { name: 'Moment of the note' }).hover({ position: { x: 160, y: 60 } });
await shoot('compare', 2500);
await page.getByRole('button', { name: 'What each part does' }).click();
await page.getByRole('button', { name: 'Find out' }).click();
await page.getByRole('table').waitFor();
await shoot('parts');
await page.getByRole('button', { name: 'Can you tell them apart?' }).click();
await page.getByRole('button', { name: 'Begin' }).click();
await page.getByText('Trial 1 of').waitFor();
await step('x');
await shoot('blind');
await page.getByRole('button', { name: 'Leave the test' }).click();
await page.getByRole('button', { name: 'What differs' }).click();
await step('p');
await step('6');
await page.getByText('Kept as').waitFor();
await page.getByText('Kept as').waitFor({ state: 'detached' });
await step('k');
await shoot('finish');
await step('k');
await step('t');
await step('3');
await shoot('build-night', 1500);
await step('4');
await shoot('match-night', 1500);
await step('5');
await page.getByRole('slider', { name: 'Moment of the note' }).hover({ position: { x: 160, y: 60 } });
await shoot('compare-night', 2500);
await step('1');
await shoot('listen-night', 1500);
await step('t');
await page.goto(url);
await shoot('studies');
await page.getByRole('button', { name: 'Delete Harbour in fog' }).click();
await page.getByRole('link', { name: 'Harbour in fog' }).waitFor({ state: 'detached' });
await page.goto(`${url}/keeping`);
await page.getByText('30 days left').waitFor();
await shoot('keeping');
await page.getByRole('button', { name: 'Put back' }).click();
await page.getByText('Nothing in it.').waitFor();
await browser.close();
