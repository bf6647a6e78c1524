import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from 'playwright-core';
import { integratedLoudness } from '../packages/core/src/dsp/loudness';
import { type Bench, downloaded, heardFor, openStudy, overallJnd, recorded, startBench, until } from './support';
import { thorough } from '../packages/core/test/thorough';

let bench: Bench;
let page: Page;

beforeAll(async () => {
  bench = await startBench({ worker: true });
  page = await bench.open();
  // Blind tests draw from here: X is always the patch, so the right answers are known.
  await page.addInitScript(() => {
    const draw = crypto.getRandomValues.bind(crypto);
    crypto.getRandomValues = ((array: Uint8Array<ArrayBuffer>) =>
      array.length === 1 ? array.fill(1) : draw(array)) as typeof crypto.getRandomValues;
  });
  await page.reload();
  await openStudy(page, 'Lantern stairs');
});
afterAll(() => bench.close());

const peakOf = (channel: Float32Array) => channel.reduce((most, value) => Math.max(most, Math.abs(value)), 0);

const candidates = () => page.getByRole('region', { name: 'Candidates' });
/** Of the candidates. */
const titles = () => candidates().getByRole('heading', { level: 3 });
const press = (key: string) => page.keyboard.press(key);

/** What stands against the rules for pages that everybody can use. */
async function faults(): Promise<string[]> {
  // Colours fade from paper to night.
  await page.evaluate(() =>
    Promise.allSettled(
      document
        .getAnimations()
        .filter((one) => one instanceof CSSTransition)
        .map(({ finished }) => finished),
    ),
  );
  // The parts of the frame that every screen has are looked at with it, too.
  const { violations } = await new AxeBuilder({ page: page as never })
    // Notices fade in and out.
    .exclude('[data-sonner-toaster]')
    .analyze();
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`);
}

// One person's way through the program, by keys: each step stands on those before it.
describe('A match', () => {
  it('begins with one key, goes on when the page is loaded again, and is the same in another window', async () => {
    await press('Enter');
    await page.waitForURL('**/match');
    await page.getByRole('region', { name: 'The match' }).getByText('Now ').waitFor();
    const { pathname } = new URL(page.url());
    await page.reload();
    const other = await bench.open(pathname);
    for (const one of [page, other]) await one.getByRole('region', { name: 'Candidates' }).waitFor();
    const distance = await page.getByTestId('best-jnd').innerText();
    expect(await other.getByTestId('best-jnd').innerText()).toBe(distance);
    await other.context().close();
    // A study without a patch takes the recommended one.
    expect(await overallJnd(page)).toBeCloseTo(Number(distance), 0);
    expect(await titles().count()).toBeGreaterThan(1);
  });

  thorough.it('lets candidates be heard as loud as the reference, and flipped against it', async () => {
    await press('n');
    await heardFor(page, 0.3);
    const [candidate, reference] = [
      await recorded(page, () => heardFor(page, 2.5)),
      await (async () => {
        await press('f');
        return recorded(page, () => heardFor(page, 2.5));
      })(),
    ];
    const [a, b] = [candidate, reference].map(({ channels, sampleRateHz }) =>
      integratedLoudness(channels, sampleRateHz),
    );
    expect(a).toBeGreaterThan(-40);
    // Voices that start anywhere beat otherwise each time that they are played.
    expect(Math.abs(a - b)).toBeLessThan(2);
    expect(candidate.channels[0]).not.toEqual(reference.channels[0]);
    await press('f');
    await press('Space');
  });

  it('is taken over in part, in words before it is, and as one step to undo', async () => {
    const copy = candidates().getByRole('listitem').filter({ hasText: 'Copy' }).first();
    await copy.getByLabel('What of the copy to use').selectOption('sources');
    await copy.getByText(/Would change: .*added/).waitFor();
    await copy.getByRole('button', { name: 'Use its sources' }).click();
    await page.getByText('Its sources are in the patch').waitFor();
    await press('3');
    const strip = page.getByRole('navigation', { name: 'Layer' });
    await strip
      .getByRole('button', { name: /^From the cut/ })
      .first()
      .waitFor();
    await strip
      .getByRole('button', { name: /^Low-pass/ })
      .first()
      .waitFor();
    await press('Control+z');
    await strip.getByRole('button', { name: /^saw/ }).first().waitFor();
  });

  thorough.it('closes one gap of the ledger, and leaves what is locked', async () => {
    const strip = page.getByRole('navigation', { name: 'Layer' });
    await strip
      .getByRole('button', { name: /^Low-pass/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Keep Resonance in a match' }).click();
    await page.getByRole('button', { name: 'Keep Resonance in a match', pressed: true }).waitFor();
    await page
      .getByRole('button', { name: /^Brightness/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Close this gap' }).click();
    await page.waitForURL('**/match');
    await page.getByRole('button', { name: '2 matches of this study' }).waitFor();
    await until(async () => (await titles().count()) === 1);
    const words = await page.getByText(/Would change|has this already/).innerText();
    expect(words).not.toContain('resonance');
    await press('Space');
    await press('u');
    await page.getByText('The whole candidate is in the patch').waitFor();
  });

  it('says nothing that keeps anyone out', async () => {
    expect(await faults()).toEqual([]);
  });

  thorough.it('nor at night', async () => {
    await press('t');
    expect(await faults()).toEqual([]);
    await press('t');
  });
});

thorough.describe('Comparing', () => {
  it('follows the moment by keys, and the pictures with it', async () => {
    await press('5');
    const moment = page.getByRole('slider', { name: 'Moment of the note' });
    await moment.waitFor();
    await moment.focus();
    const before = Number(await moment.getAttribute('aria-valuenow'));
    for (let i = 0; i < 5; i++) await press('Shift+ArrowRight');
    expect(Number(await moment.getAttribute('aria-valuenow'))).toBeCloseTo(before + 0.5, 2);
    const picture = page.getByRole('img', { name: 'Spectrum at the moment' });
    const shown = await picture.screenshot();
    for (let i = 0; i < 9; i++) await press('Shift+ArrowRight');
    await until(async () => !(await picture.screenshot()).equals(shown));
    // A step nearer: of the time, then of the frequencies, about what is looked at.
    await press('+');
    const spectrum = page.getByRole('slider', { name: 'Spectrum' });
    const lowest = Number(await spectrum.getAttribute('aria-valuemin'));
    await spectrum.focus();
    await press('Shift+ArrowRight');
    expect(await spectrum.getAttribute('aria-valuetext')).toMatch(/Hz: −\d.* dB, −\d.* dB$/);
    await press('+');
    await until(async () => Number(await spectrum.getAttribute('aria-valuemin')) > lowest);
    await press('q');
    await until(async () => Number(await spectrum.getAttribute('aria-valuemin')) === lowest);
    await page.getByLabel('Printed in red').selectOption({ index: 2 });
    await page.getByRole('img', { name: 'Partials at the moment' }).waitFor();
    expect(await faults()).toEqual([]);
    await page.getByLabel('Printed in red').selectOption('patch');
  });

  it('tells what each part contributes', async () => {
    await page.getByRole('button', { name: 'What each part does' }).click();
    await page.getByRole('button', { name: 'Find out' }).click();
    const rows = page.getByRole('table').getByRole('row');
    await rows.first().waitFor();
    expect(await rows.filter({ hasText: 'Low-pass' }).first().innerText()).toMatch(/\d+\.\d JND/);
    expect(await faults()).toEqual([]);
  });

  it('plays in the track what is isolated, or says what to do', async () => {
    await page.getByRole('button', { name: 'In the track' }).click();
    await page.getByText('This cut has no isolation').waitFor();
    expect(await faults()).toEqual([]);
    await press('1');
    const panel = page.getByRole('region', { name: 'Isolation' });
    await panel.getByLabel('Band', { exact: true }).check();
    await panel.getByRole('radio', { name: 'Left out' }).waitFor();
    await press('2');
    await page.getByRole('button', { name: 'Measure only' }).click();
    await page.getByRole('region', { name: 'Loudness' }).waitFor();
    await press('5');
    await overallJnd(page);
    await page.getByRole('button', { name: 'Play it in the track' }).click();
    await page.getByRole('button', { name: 'The patch in its place', pressed: true }).waitFor();
    // Changed over in place: both sound, about as loud (what is left out adds to it), and are not the same.
    const [patch, track] = [
      await recorded(page, () => heardFor(page, 2.5)),
      await (async () => {
        await press('g');
        return recorded(page, () => heardFor(page, 2.5));
      })(),
    ];
    const [a, b] = [patch, track].map(({ channels, sampleRateHz }) => integratedLoudness(channels, sampleRateHz));
    expect(a).toBeGreaterThan(-40);
    expect(Math.abs(a - b)).toBeLessThan(4);
    expect(patch.channels[0]).not.toEqual(track.channels[0]);
    expect(await faults()).toEqual([]);
    await page.getByRole('region', { name: 'In the track' }).getByRole('button', { name: 'Stop' }).click();
  });

  it('tests the ears blind, keys only, and tells the chance at the end', async () => {
    await page.getByRole('button', { name: 'Can you tell them apart?' }).click();
    await page.getByLabel('Trials').selectOption('8');
    await page.locator('body').click({ position: { x: 60, y: 500 } });
    await press('Enter');
    for (let trial = 1; trial <= 8; trial++) {
      await page.getByText(`Trial ${trial} of 8`).waitFor();
      await press('x');
      if (trial === 1) {
        // X is the patch: once round it has the very peak that B has, and not that of A.
        const heard: number[] = [];
        for (const key of ['x', 'b', 'a']) {
          await press(key);
          await heardFor(page, 0.1);
          const { channels } = await recorded(page, () => heardFor(page, 2.8));
          heard.push(Math.max(...channels.map(peakOf)));
        }
        const [x, b, a] = heard;
        expect(x).toBeCloseTo(b, 5);
        expect(Math.abs(x - a)).toBeGreaterThan(1e-4);
        expect(await faults()).toEqual([]);
      }
      expect(await page.getByRole('region', { name: 'Result' }).count()).toBe(0);
      await press('ArrowRight');
    }
    await page.getByText('8 of 8 right').waitFor();
    // 1 in 2^8.
    await page.getByText('p = 0.004').waitFor();
    await page.getByText('You can tell them apart').waitFor();
    await page.reload();
    await page.getByRole('button', { name: 'Can you tell them apart?' }).click();
    await page.getByText('8 of 8, p = 0.004').waitFor();
  });

  it('ends in a proof and a patch that is carried away', async () => {
    await overallJnd(page);
    await press('p');
    await page.getByText('Kept as').waitFor();
    await press('6');
    const { bytes } = await downloaded(page, () =>
      page.getByRole('button', { name: 'Export: Patch as JSON', exact: true }).click(),
    );
    const patch = JSON.parse(new TextDecoder().decode(bytes)) as { locks: string[] };
    expect(patch.locks).toHaveLength(1);
  });
});

thorough.it('without a worker says so, and what to do', async () => {
  const alone = await startBench();
  const own = await alone.open();
  await openStudy(own, 'Clockwork tide');
  await own.keyboard.press('Enter');
  await own.getByText('Waiting for a worker; none is there.').waitFor();
  await own.getByText('npm run worker').waitFor();
  await own.keyboard.press('Escape');
  await own.getByText('Ended before its time').waitFor();
  await alone.close();
});
