import type { Page } from 'playwright-core';
import { hzFromMidi } from '@imprint/core/dsp/pitch';
import { amplitudeAt } from '../packages/core/test/signals';
import { type Bench, heardFor, openStudy, recorded, startBench, until } from './support';
import { thorough } from '../packages/core/test/thorough';

let bench: Bench;
let page: Page;
beforeAll(async () => {
  bench = await startBench();
  page = await bench.open();
  await openStudy(page, 'Gull over the rail');
  await page.getByRole('link', { name: 'Read' }).click();
  await page.getByRole('button', { name: 'Measure only' }).click();
  await page.getByRole('region', { name: 'Pitch' }).waitFor();
});
afterAll(async () => {
  await bench.close();
});

const card = (name: string) => page.getByRole('region', { name, exact: true });

/** A4, as the demo's score has it. */
const F0_HZ = hzFromMidi(69);

thorough.describe('What was measured of the lead', () => {
  it('can be heard: the pitch as a sine, one partial alone', async () => {
    const sine = card('Pitch').getByRole('button', { name: 'As a sine' });
    const partials = card('Partials');
    const listen = async () => {
      const { channels, sampleRateHz } = await recorded(page, () => heardFor(page, 1.2));
      // The settled middle of what was heard.
      const middle = channels[0].subarray(0.4 * sampleRateHz, 0.8 * sampleRateHz);
      return (n: number) => amplitudeAt(middle, sampleRateHz, n * F0_HZ);
    };
    await sine.click();
    await page.getByRole('button', { name: 'Stop', exact: true }).waitFor();
    const asSine = await listen();
    expect(asSine(1)).toBeGreaterThan(20 * asSine(2));
    await sine.click();

    await partials.getByLabel('Number of the partial').fill('3');
    await partials.getByRole('button', { name: 'This one alone' }).click();
    await partials.getByRole('button', { name: 'This one alone', pressed: true }).waitFor();
    const third = await listen();
    expect(third(3)).toBeGreaterThan(10 * third(2));
    expect(third(3)).toBeGreaterThan(10 * third(4));
    // Stepping on changes what plays, once it is made.
    await partials.getByRole('button', { name: 'Partial below' }).click();
    await until(async () => {
      const second = await listen();
      return second(2) > 10 * second(3);
    });
    await partials.getByRole('button', { name: 'This one alone', pressed: true }).click();
  });

  it('can be overruled by hand, which outlives a reload, and taken back', async () => {
    const loudness = card('Loudness');
    const attack = loudness.getByRole('button', { name: 'Overrule attack' });
    const measured = await attack.innerText();
    await attack.click();
    const field = loudness.getByLabel('Attack, by hand');
    // What is out of range is refused, and says what would be right.
    await field.fill('90 s');
    await field.press('Enter');
    await page.getByText('Attack is a number from 0 to 60 s').waitFor();
    await attack.click();
    await field.fill('120 ms');
    await Promise.all([
      page.waitForResponse((response) => response.request().method() === 'PATCH' && response.ok()),
      field.press('Enter'),
    ]);
    expect(await attack.innerText()).toContain('120 ms');
    expect(await loudness.innerText()).toContain('An envelope with 120 ms attack');

    await page.reload();
    await page.getByRole('region', { name: 'Loudness' }).waitFor();
    expect(await attack.innerText()).toContain('120 ms');
    await loudness.getByRole('button', { name: 'Take the measured attack again' }).click();
    expect((await attack.innerText()).trim()).toBe(measured.trim());
  });

  it('says in synth terms what it is, and why it is not sure', async () => {
    const pitch = await card('Pitch').innerText();
    expect(pitch).toMatch(/An LFO of 5\.\d+ Hz moves it by ±2\d ct/);
    // Two at the pitch, 6 cents apart; the third is an octave up.
    expect(await card('Unison').innerText()).toMatch(/[23] voices over (5|6)(\.\d)? ct/);
    expect(await card('Sources').innerText()).toMatch(/(saw|square) at the pitch \+ (saw|square) at the pitch/);
    expect(await card('Noise').innerText()).toContain('No noise source is needed.');
    expect(await page.getByText(/^Not sure: /).count()).toBeGreaterThan(0);
    expect(await card('Layers').innerText()).toContain('one layer would do');
  });
});

thorough.describe('The whole file', () => {
  it('has its key with runners-up, its tuning, and sections that are looked at with a click', async () => {
    await page.getByRole('link', { name: 'Listen' }).click();
    const sections = page.getByRole('list', { name: 'Sections' }).getByRole('button');
    await sections.nth(1).waitFor();
    await page.getByText(/tuned/).first().waitFor();
    await page
      .getByRole('button', { name: /^D (major|mixolydian|minor|dorian)|^A (minor|dorian)|^B minor/ })
      .first()
      .click();
    await page.getByText('How well the notes fit the keys that come nearest').waitFor();
    const count = await sections.count();
    await sections.nth(1).click();
    // Only what lies in view has a place.
    await page.waitForFunction(
      (before) => document.querySelectorAll('[aria-label=Sections] button').length < before,
      count,
    );
  });
});
