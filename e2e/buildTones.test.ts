import type { Page } from 'playwright-core';
import { centsBetween } from '@imprint/core/dsp/pitch';
import type { Audio } from '@imprint/core/reading/audio';
import { amplitudeAt, hzAt } from '../packages/core/test/signals';
import { type Bench, addTone, beginEmpty, dragCut, heardFor, largestStep, recorded, startBench } from './support';
import { thorough } from '../packages/core/test/thorough';

let bench: Bench;
let page: Page;

beforeAll(async () => {
  bench = await startBench({ demo: false });
  page = await bench.open();
  await addTone(bench, page, 'Foghorn', 110);
  await dragCut(page, 0.05, 0.95);
  await beginEmpty(page);
  await page.keyboard.press('k');
});
afterAll(() => bench.close());

/** Each tone is built in a layer of its own, heard alone; the keyboard plays it. */
async function newLayer(): Promise<void> {
  await strip().getByRole('button', { name: 'Add' }).first().click();
  await strip()
    .getByRole('button', { name: / alone$/ })
    .nth((await layerCount()) - 1)
    .click();
}

const strip = () => page.getByRole('navigation', { name: 'Layer' });
const layerCount = async () => Number(/^(\d+) layers/.exec(await strip().innerText())?.[1] ?? 1);
const element = (name: RegExp) => strip().getByRole('button', { name }).first();

/** Names of those elements of the strip whose grips match, from the top. */
async function orderOf(grips: RegExp): Promise<string[]> {
  const found = await strip().getByRole('button', { name: grips }).all();
  return Promise.all(found.map(async (grip) => (await grip.getAttribute('aria-label'))!.slice('Move '.length)));
}

/** Types a value with its unit into a ruler, by keys. */
async function set(ruler: string, value: string): Promise<void> {
  const slider = page.getByRole('slider', { name: ruler, exact: true });
  // It may stand under a heading that is folded.
  const folded = page.getByRole('main').locator('h3 button[aria-expanded=false]');
  while ((await slider.count()) === 0) await folded.first().click();
  await slider.focus();
  await page.keyboard.press('Enter');
  await page.getByLabel(`${ruler}, typed`, { exact: true }).fill(value);
  await page.keyboard.press('Enter');
}

const choose = (label: string, option: string) => page.getByLabel(label, { exact: true }).selectOption(option);

/** Plays notes on the lower row of letters (C to B of octave 2) and records what comes out. */
async function play(seconds: number, keys: (down: (key: string) => Promise<void>) => Promise<void>): Promise<Audio> {
  const held: string[] = [];
  return recorded(page, async () => {
    await keys(async (key) => {
      held.push(key);
      await page.keyboard.down(key);
    });
    await heardFor(page, seconds);
    for (const key of held) await page.keyboard.up(key);
    await heardFor(page, 0.25);
  });
}

/** From the first sound on, mono. */
function heardOf({ channels: [left, right = left] }: Audio): Float32Array {
  const mono = left.map((x, i) => (x + right[i]) / 2);
  return mono.subarray(mono.findIndex((x) => Math.abs(x) > 1e-4));
}

const rms = (signal: Float32Array) => Math.sqrt(signal.reduce((sum, x) => sum + x * x, 0) / signal.length);

function isSound(audio: Audio): void {
  for (const channel of audio.channels) {
    expect(channel.every((x) => Number.isFinite(x) && Math.abs(x) < 2)).toBe(true);
  }
}

thorough.it(
  'a pluck of body and click: a sine with a short contour, and a pitch drop of a few hundredths of a second',
  async () => {
    await newLayer();
    await element(/^Saw/).click();
    await choose('Shape', 'sine');
    await page.getByLabel('Move Semitones', { exact: true }).selectOption({ label: 'Envelope' });
    await set('Sine, semitones', '36 st');
    await set('Attack', '0 s');
    await set('Decay', '40 ms');
    await set('Sustain', 'silent');
    await set('Decay curve', '0 %');
    await element(/^Contour/).click();
    await set('Decay', '250 ms');
    await set('Sustain', 'silent');
    const audio = await play(0.6, (down) => down('b'));
    isSound(audio);
    const heard = heardOf(audio);
    const { sampleRateHz: rate } = audio;
    // G2 is 98 Hz. Half-way down the drop it is 18 semitones over that, and after it there.
    expect(centsBetween(98, hzAt(heard, rate, 0.02, 0.012))).toBeGreaterThan(1400);
    expect(centsBetween(98, hzAt(heard, rate, 0.02, 0.012))).toBeLessThan(2200);
    expect(Math.abs(centsBetween(98, hzAt(heard, rate, 0.12, 0.06)))).toBeLessThan(10);
    expect(rms(heard.subarray(0.4 * rate, 0.5 * rate))).toBeLessThan(0.05 * rms(heard.subarray(0, 0.1 * rate)));
  },
);

thorough.it('a bass of two saws 52 cents apart beats at three times a second', async () => {
  await newLayer();
  await element(/^Saw/).click();
  await set('Unison voices', '2');
  await set('Detune, total spread', '52 ct');
  const audio = await play(3.5, (down) => down('b'));
  isSound(audio);
  const heard = heardOf(audio).subarray(0, 3.4 * audio.sampleRateHz);
  const lines = [-26, 26].map((cents) => 98 * 2 ** (cents / 1200));
  // 98 Hz ± 26 cents: 2.94 beats a second (trigonometry; detune: common practice).
  expect(lines[1] - lines[0]).toBeCloseTo(2.94, 2);
  const middle = amplitudeAt(heard, audio.sampleRateHz, 98);
  for (const hz of lines) expect(amplitudeAt(heard, audio.sampleRateHz, hz)).toBeGreaterThan(4 * middle);
});

thorough.it('a growl: high-pass and notch that one contour moves towards each other', async () => {
  await newLayer();
  await element(/^High-pass \d/).click();
  await page.getByLabel('Kind', { exact: true }).selectOption('highpassNotch');
  await set('Cutoff at rest', '100 Hz');
  await set('Notch from the cutoff', '48 st');
  await set('Notch Q', '1.5');
  await page.getByLabel('Move Cutoff at rest', { exact: true }).selectOption({ label: 'LFO' });
  await set('High-pass and notch, cutoff at rest', '24 st');
  await choose('Polarity of the route to High-pass and notch, cutoff at rest', 'unipolar');
  await choose('Rate by', '1/4');
  // By pointer: the shape is drawn from its corners.
  await choose('Shape', 'drawn');
  const turn = page.getByRole('figure', { name: 'One turn of the LFO' });
  const box = (await turn.boundingBox())!;
  const corner = turn.getByRole('button', { name: /^Point 2/ });
  const at = (await corner.boundingBox())!;
  await page.mouse.move(at.x + 6, at.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.9 * box.width, box.y + 2, { steps: 6 });
  await page.mouse.up();
  expect(await turn.getByRole('button', { name: /^Point 2/ }).getAttribute('aria-label')).toContain('324°');
  const audio = await play(2.2, (down) => down('b'));
  isSound(audio);
  const heard = heardOf(audio);
  const { sampleRateHz: rate } = audio;
  // At 120 BPM the contour goes round twice a second: the low end comes back where it starts, and is gone at
  // its top.
  const lowEnd = (seconds: number) =>
    amplitudeAt(heard.subarray((seconds - 0.05) * rate, (seconds + 0.05) * rate), rate, 98);
  for (const turns of [1, 2, 3]) {
    expect(lowEnd(0.5 * turns + 0.06)).toBeGreaterThan(3 * lowEnd(0.5 * turns + 0.43));
  }
});

thorough.it('a lead that glides, with vibrato that grows', async () => {
  await newLayer();
  await element(/^Saw/).click();
  await choose('Shape', 'sine');
  await set('Octave', '1');
  await element(/^Notes/).click();
  await choose('Plays', 'legato');
  await choose('Glides', 'overlap');
  await set('Glide', '150 ms');
  await element(/^Sine/).click();
  await page.getByLabel('Move Semitones', { exact: true }).selectOption({ label: 'LFO' });
  await set('Sine, semitones', '0.5 st');
  await set('Rate', '5 Hz');
  await set('Delay', '1.5 s');
  await set('Fade in', '0.5 s');
  const audio = await play(3.6, async (down) => {
    await down('z');
    await heardFor(page, 0.5);
    await down('b');
  });
  isSound(audio);
  const heard = heardOf(audio);
  const { sampleRateHz: rate } = audio;
  // C3 (130.8 Hz) slides up to G3 (196 Hz).
  expect(Math.abs(centsBetween(130.81, hzAt(heard, rate, 0.3, 0.1)))).toBeLessThan(8);
  const cents = Array.from({ length: 280 }, (_, i) => centsBetween(196, hzAt(heard, rate, 0.4 + i / 100, 0.025)));
  const leaves = cents.findIndex((c) => c > -650) / 100;
  const arrives = cents.findIndex((c) => c > -50) / 100;
  expect(arrives - leaves).toBeGreaterThan(0.1);
  expect(arrives - leaves).toBeLessThan(0.17);
  const swing = (from: number, to: number) => {
    const part = cents.slice(Math.round((from - 0.4) * 100), Math.round((to - 0.4) * 100));
    return Math.max(...part) - Math.min(...part);
  };
  // The vibrato starts after a second and a half and is full after two: ±50 cents. A busy machine passes the
  // second key on late.
  expect(arrives).toBeLessThan(0.9);
  expect(swing(0.4 + arrives + 0.05, 1.48)).toBeLessThan(12);
  expect(swing(1.65, 1.85)).toBeGreaterThan(20);
  expect(swing(2.2, 2.9)).toBeGreaterThan(80);
  expect(swing(2.2, 2.9)).toBeLessThan(112);
  // 5 Hz: as many turns in the last 0.8 s as that makes.
  let turns = 0;
  const tail = cents.slice(180, 260);
  for (let i = 1; i < tail.length; i++) if (tail[i - 1] < 0 && tail[i] >= 0) turns++;
  expect(Math.abs(turns - 4)).toBeLessThanOrEqual(1);
  expect(largestStep(heard.subarray(0, 3 * rate))).toBeLessThan(0.06);
});

thorough.it('a chain: echoes at their time, moved to another place, its level moved by a macro', async () => {
  await newLayer();
  await element(/^Saw/).click();
  await choose('Shape', 'sine');
  await element(/^Contour/).click();
  await set('Decay', '60 ms');
  await set('Sustain', 'silent');
  await page.getByRole('button', { name: 'Add a macro' }).click();
  await choose('Add an effect', 'delay');
  await choose('Left by', '1/8');
  await choose('Right by', '1/8');
  await set('Feedback', '50 %');
  await set('Wet', '50 %');
  await page.getByRole('img', { name: 'Level of what follows, over time' }).waitFor();
  await choose('Add an effect', 'stereo');
  const inChain = () => orderOf(/^Move (Delay|Stereo)$/);
  expect(await inChain()).toEqual(['Delay', 'Stereo']);
  await page.keyboard.press('Alt+ArrowUp');
  expect(await inChain()).toEqual(['Stereo', 'Delay']);
  await page.getByLabel('Move Gain', { exact: true }).selectOption({ label: 'Macro 1' });
  await set('Stereo, gain', '-20 dB');

  const levels = async () => {
    const audio = await play(1.2, (down) => down('b'));
    isSound(audio);
    expect(largestStep(audio.channels[0])).toBeLessThan(0.1);
    const heard = heardOf(audio);
    // At 120 BPM an eighth is a quarter of a second.
    return [0, 1, 2, 3].map((n) => {
      const from = Math.round((0.25 * n + 0.005) * audio.sampleRateHz);
      return 20 * Math.log10(rms(heard.subarray(from, from + 0.05 * audio.sampleRateHz)));
    });
  };
  /** What is left of the echoes before is not to be taken for the beginning. */
  const echoesToEnd = () => heardFor(page, 2.5);
  const before = await levels();
  for (const n of [1, 2]) expect(before[n] - before[n + 1]).toBeCloseTo(6, 0);
  await element(/^Macro 1/).click();
  await set('Value', '100 %');
  await echoesToEnd();
  const after = await levels();
  expect(before[0] - after[0]).toBeCloseTo(20, 0);
  expect(before[2] - after[2]).toBeCloseTo(20, 0);

  // What the delay adds, heard by itself, begins with the first echo.
  await set('Value', '0 %');
  await element(/^Delay/).click();
  await page.keyboard.press('o');
  await echoesToEnd();
  const added = await levels();
  for (const n of [0, 1, 2]) expect(added[n]).toBeCloseTo(before[n + 1], 0);
  await page.keyboard.press('o');

  await page.getByRole('button', { name: 'What does it do?' }).click();
  const does = page.getByRole('group', { name: 'What it does' });
  await does.waitFor();
  expect(await does.innerText()).not.toBe('');
});

thorough.it('a chain that is put on the shelf is there for another layer, until it is taken off', async () => {
  const shelf = page.getByRole('dialog', { name: 'Shelf of chains' });
  const open = () => page.getByLabel('Shelf of chains, for the layer').click();
  await open();
  await shelf.getByLabel('Name of the chain').fill('Up the stairs');
  await shelf.getByLabel('What the chain is for').fill('echoes at the end');
  await shelf.getByRole('button', { name: 'Put it on the shelf' }).click();
  await shelf.getByRole('button', { name: /^Up the stairs, echoes at the end/ }).waitFor();
  await page.keyboard.press('Escape');
  await shelf.waitFor({ state: 'detached' });
  await newLayer();
  await open();
  await shelf.getByRole('button', { name: /^Up the stairs/ }).click();
  expect(await orderOf(/^Move (Delay|Stereo)$/)).toEqual(['Stereo', 'Delay']);
  await open();
  await shelf.getByRole('button', { name: 'Take Up the stairs off the shelf' }).click();
  await shelf.getByText('None yet.').waitFor();
  await shelf.getByRole('button', { name: 'Close' }).first().click();
});

thorough.it('16 notes of 8 saws each through two filters play live', async () => {
  await newLayer();
  await element(/^Saw/).click();
  await set('Unison voices', '8');
  await set('Detune, total spread', '30 ct');
  await set('Stereo spread', '60 %');
  await set('Level', '-24 dB');
  await element(/^Low-pass \d/).click();
  await set('Cutoff at rest', '2 kHz');
  await strip().getByLabel('High-pass on').check();
  // Notes that ring on, so that sixteen of them sound at once.
  await element(/^Contour/).click();
  await set('Release', '60 s');
  for (const key of 'zsxdcvgbhnjm') await page.keyboard.press(key);
  await page.keyboard.press(']');
  for (const key of 'zsxd') await page.keyboard.press(key);
  await heardFor(page, 0.5);
  const audio = await recorded(page, () => heardFor(page, 1.5));
  isSound(audio);
  expect(rms(audio.channels[0])).toBeGreaterThan(0.01);
  await page.keyboard.press('[');
});

describe('The strip', () => {
  thorough.it(
    'reorders by drag and by keys, duplicates, switches, solos and deletes by keys, and takes each back',
    async () => {
      await newLayer();
      await page.keyboard.press('k');
      await page.getByLabel('Add a source').selectOption('sine');
      await page.getByLabel('Add a source').selectOption('noise');
      const titles = () => orderOf(/^Move (Saw|Sine|Noise)( \d)?$/);
      expect(await titles()).toEqual(['Saw', 'Sine', 'Noise']);
      await element(/^Noise/).click();
      await page.keyboard.press('Alt+ArrowUp');
      expect(await titles()).toEqual(['Saw', 'Noise', 'Sine']);
      const grip = (await strip().getByRole('button', { name: 'Move Saw' }).boundingBox())!;
      const target = (await strip().getByRole('button', { name: 'Move Sine' }).boundingBox())!;
      await page.mouse.move(grip.x + 5, grip.y + 5);
      await page.mouse.down();
      await page.mouse.move(grip.x + 5, grip.y + 25, { steps: 4 });
      await page.mouse.move(target.x + 5, target.y + 10, { steps: 8 });
      await page.mouse.up();
      expect(await titles()).toEqual(['Noise', 'Sine', 'Saw']);
      await element(/^Sine/).click();
      await page.keyboard.press('Control+d');
      expect(await titles()).toEqual(['Noise', 'Sine 1', 'Sine 2', 'Saw']);
      await page.keyboard.press('i');
      expect(await strip().getByLabel('Sine 2 on').isChecked()).toBe(false);
      await page.keyboard.press('o');
      expect(await strip().getByRole('button', { name: 'Sine 2 alone' }).getAttribute('aria-pressed')).toBe('true');
      await page.keyboard.press('o');
      await page.keyboard.press('Delete');
      expect(await titles()).toEqual(['Noise', 'Sine', 'Saw']);
      for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
      expect(await titles()).toEqual(['Noise', 'Sine', 'Saw']);
      await page.keyboard.press('Control+z');
      expect(await titles()).toEqual(['Saw', 'Noise', 'Sine']);
    },
  );

  thorough.it('copies a contour from one layer to another', async () => {
    await page.getByLabel('Add a modulator').selectOption('lfo');
    await set('Rate', '7 Hz');
    await page.getByRole('heading', { name: 'LFO 1', level: 3 }).click();
    await page.keyboard.press('Control+c');
    await element(/^Layer 1/).click();
    await page.keyboard.press('Control+v');
    expect(await page.getByRole('slider', { name: 'Rate', exact: true }).getAttribute('aria-valuetext')).toBe('7 Hz');
  });

  thorough.it('warns when a route puts held notes out of tune', async () => {
    await page.getByLabel('Add a route').selectOption({ label: 'Semitones' });
    await page.getByLabel(/^Polarity of the route to .*semitones/).selectOption('unipolar');
    expect(await page.getByRole('alert').innerText()).toContain('out of tune on average');
    await page.getByLabel(/^Polarity of the route to .*semitones/).selectOption('bipolar');
    await page.getByRole('alert').waitFor({ state: 'detached' });
  });

  thorough.it('exaggerates while a key is held, and is back after', async () => {
    await page.keyboard.down('w');
    await page.keyboard.up('w');
    expect(await page.getByRole('slider', { name: /semitones$/ }).getAttribute('aria-valuetext')).toBe('+7 st');
  });
});
