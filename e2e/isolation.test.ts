import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { noteNumber } from '@imprint/core/dsp/pitch';
import { readMidiFile } from '@imprint/core/formats/midi';
import { writeWav } from '@imprint/core/formats/wav';
import { gridOfTaps } from '@imprint/core/reading/piece/grid';
import { LINE_RATE_HZ, lines, renderLine, scoreNotes } from '../packages/core/test/lines';
import { createRandom } from '../packages/core/test/signals';
import { type Bench, audioClock, downloaded, dragCut, heardFor, recorded, startBench, until } from './support';
import { thorough } from '../packages/core/test/thorough';

const LINE_SECONDS = 5;

let bench: Bench;
const folder = mkdtempSync(join(tmpdir(), 'imprint-isolation-'));
beforeAll(async () => {
  bench = await startBench({ demo: false });
});
afterAll(async () => {
  await bench.close();
  rmSync(folder, { recursive: true });
});

/** A page with the study of a new file open. */
async function openFile(name: string, signal: Float32Array): Promise<Page> {
  const path = join(folder, name);
  writeFileSync(path, writeWav({ channels: [signal], sampleRateHz: LINE_RATE_HZ }, 'int16'));
  const page = await bench.open();
  await page.locator('input[type=file]').first().setInputFiles(path);
  await page.getByTestId('cut-overlay').waitFor();
  return page;
}

/** The notes of the roll, as their labels tell them. */
async function rollNotes(page: Page) {
  // Looked at in one go: the roll is drawn anew while the screen opens.
  const labels = await page.waitForFunction(() => {
    const notes = document.querySelectorAll(
      '[data-testid="note-roll"] [role="button"], [data-testid="note-roll"] button',
    );
    return notes.length > 0 && [...notes].map((note) => note.getAttribute('aria-label')!);
  });
  return ((await labels.jsonValue()) as string[]).map((label) => {
    const [, name, onset, length] = /^(\S+) at ([\d.]+) s for ([\d.]+) s$/.exec(label)!;
    return { midi: noteNumber(name)!, onsetSeconds: Number(onset), durationSeconds: Number(length) };
  });
}

/**
 * Power above 8 kHz, where the hats are and the line is not, over that below, in dB. A share does not hang on
 * how much silence is recorded with it.
 */
function highShareDb(signal: Float32Array): number {
  const pole = Math.exp((-2 * Math.PI * 8000) / LINE_RATE_HZ);
  // Four poles, past which little of the line comes.
  const high = [1, 2, 3, 4].reduce((rest) => {
    let low = 0;
    return rest.map((x) => x - (low += (1 - pole) * (x - low)));
  }, signal);
  const power = (part: Float32Array) => part.reduce((sum, x) => sum + x * x, 0);
  return 10 * Math.log10(power(high) / (power(signal) - power(high)));
}

/** Plays the file once from end to end: a part of it would be of other notes on a busy machine. */
async function playedThrough(page: Page): Promise<Float32Array> {
  const { channels } = await recorded(page, async () => {
    await page.keyboard.press('Space');
    await heardFor(page, LINE_SECONDS + 0.3);
    await page.keyboard.press('Space');
  });
  return channels[0];
}

describe('A plucked line under drums', () => {
  const line = lines.find(({ name }) => name === 'dull plucks, sixteenths')!;
  const { audio, notes } = renderLine({ ...line, beats: [0.5], drumsDb: -3, seconds: LINE_SECONDS });
  let page: Page;
  beforeAll(async () => {
    page = await openFile('line.wav', audio);
  });
  afterAll(() => page.context().close());

  it('is shown as notes once the cut is measured', async () => {
    await dragCut(page, 0.001, 0.999);
    await page.getByRole('button', { name: 'Measure the cut' }).click();
    await page.getByTestId('note-roll').waitFor();
    const found = await rollNotes(page);
    // Edges snap to onsets: the roll's times are from the cut's start.
    const cutFrom = notes[0].onsetSeconds - found.find(({ midi }) => midi === notes[0].midi)!.onsetSeconds;
    const placed = found.map((note) => ({ ...note, onsetSeconds: note.onsetSeconds + cutFrom }));
    expect(scoreNotes(placed, notes).f).toBeGreaterThan(0.8);
    await page.getByText(/^\d+ notes/).waitFor();
  });

  thorough.it('is suggested to be matched without the hits, which can be heard', async () => {
    await page.keyboard.press('4');
    await page.getByText(/^Beside the tone there are hits, \d+ dB under it/).waitFor();
    await page.getByRole('button', { name: 'Match the tone alone' }).click();
    await page.getByText('Only what its isolation keeps is matched.').waitFor();
    const heard: number[] = [];
    for (const name of ['Kept', 'Left out']) {
      await page.getByRole('radio', { name }).click();
      heard.push(highShareDb(await playedThrough(page)));
    }
    expect(heard[1]).toBeGreaterThan(heard[0] + 3);
    await page.getByRole('button', { name: 'Match all of it' }).click();
    await page.getByText('Only what its isolation keeps is matched.').waitFor({ state: 'detached' });
    await page.keyboard.press('1');
  });

  thorough.it('has beats that are halved, nudged and tapped by hand, and stay so', async () => {
    const tempo = page.getByRole('button', { name: /BPM$|no sure tempo/ });
    const beats = page.getByTestId('beats').locator('span');
    await tempo.click();
    await page.getByRole('button', { name: 'Twice the tempo' }).click();
    await page.getByText('as set by hand').waitFor();
    const doubled = await beats.count();
    await page.getByRole('button', { name: 'Half the tempo' }).click();
    await until(async () => Math.abs((await beats.count()) - doubled / 2) <= 1);
    await page.getByRole('button', { name: '5 ms later' }).click();
    const set = await tempo.innerText();
    await page.reload();
    await page.getByTestId('note-roll').waitFor();
    expect(await tempo.innerText()).toBe(set);

    // Taps about every 0.4 s while the file plays.
    await page.keyboard.press('l');
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await page.evaluate(() => {
      window.tapped = [];
      const note = ({ key }: KeyboardEvent) => key === 'b' && window.tapped!.push(window.audioContext!.currentTime);
      addEventListener('keydown', note, { capture: true });
    });
    const clock = await audioClock(page);
    for (let i = 1; i <= 6; i++) {
      await clock.until(0.4 * i);
      await page.keyboard.press('b');
    }
    // As they came: a busy machine passes keys on late.
    const times = await page.evaluate(() => window.tapped!);
    const asTapped = gridOfTaps(times)!.bpm;
    await page.keyboard.press('Space');
    await page.keyboard.press('l');
    const tapped = Number.parseFloat(await tempo.innerText());
    expect(Math.abs(tapped / asTapped - 1)).toBeLessThan(0.06);
    await tempo.click();
    await page.getByRole('button', { name: 'As found', exact: true }).first().click();
    // The button goes, and with it the focus that keeps its menu open.
    await page.getByText('The beats are as found.').waitFor({ state: 'attached' });
  });

  thorough.it('is taken out by its partials, and both parts are heard', async () => {
    const panel = page.getByRole('region', { name: 'Isolation' });
    await panel.getByLabel('Only the partials of its notes').check();
    const heard = panel.getByRole('radiogroup', { name: 'What is heard' });
    await heard.getByRole('radio', { name: 'Kept' }).waitFor();
    expect(await heard.getByRole('radio', { name: 'Kept' }).getAttribute('aria-checked')).toBe('true');
    const play = async (name: string) => {
      await heard.getByRole('radio', { name, exact: true }).click();
      return highShareDb(await playedThrough(page));
    };
    const whole = await play('Whole');
    const kept = await play('Kept');
    const leftOut = await play('Left out');
    // The hits have lows as well.
    expect(kept).toBeLessThan(whole - 2);
    expect(leftOut).toBeGreaterThan(kept + 2);
    await panel
      .getByText(/−\d+(\.\d)? dB/)
      .first()
      .waitFor();

    await page.reload();
    // The isolation is kept with the cut; what it makes is worked out anew when it is asked for.
    await page.getByRole('button', { name: 'Hear what is kept' }).click();
    await panel.getByRole('radio', { name: 'Kept' }).waitFor();
  });

  it('is corrected note by note, by keys and by pointer, and stays so', async () => {
    const roll = page.getByTestId('note-roll');
    const before = await rollNotes(page);
    await roll.getByRole('button').nth(1).focus();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('ArrowUp');
    expect((await rollNotes(page))[1].midi).toBe(before[1].midi + 2);
    await page.keyboard.press('Shift+ArrowDown');
    expect((await rollNotes(page))[1].midi).toBe(before[1].midi - 10);

    await roll.getByRole('button').nth(4).focus();
    await page.keyboard.press('Delete');
    expect(await rollNotes(page)).toHaveLength(before.length - 1);
    await page.keyboard.press('z');
    expect(await rollNotes(page)).toHaveLength(before.length);
    await roll.getByRole('button').nth(4).focus();
    await page.keyboard.press('Delete');
    await page.getByRole('button', { name: 'Octave down' }).click();
    const corrected = await rollNotes(page);
    expect(corrected[0].midi).toBe(before[0].midi - 12);
    await page.getByText('corrected').waitFor();

    const last = (await roll.getByRole('button').last().boundingBox())!;
    await page.mouse.move(last.x + last.width - 2, last.y + last.height / 2);
    await page.mouse.down();
    await page.mouse.move(last.x + last.width + 10, last.y + last.height / 2, { steps: 3 });
    await page.mouse.up();
    const longer = await rollNotes(page);
    expect(longer.at(-1)!.durationSeconds).toBeGreaterThan(corrected.at(-1)!.durationSeconds);

    const { bytes } = await downloaded(page, () => page.getByRole('button', { name: 'Notes as a MIDI file' }).click());
    const written = readMidiFile(bytes);
    expect(written.map(({ midi }) => midi)).toEqual(longer.map(({ midi }) => midi));

    await page.reload();
    await page.getByTestId('note-roll').waitFor();
    expect(await rollNotes(page)).toEqual(longer);
  });

  thorough.it('gives its traits from what is kept, with the notes as corrected', async () => {
    const corrected = await rollNotes(page);
    await page.keyboard.press('2');
    await page.getByRole('button', { name: 'Measure only' }).click();
    await page.getByRole('region', { name: 'Loudness' }).waitFor();
    await page.keyboard.press('1');
    await page.getByTestId('note-roll').waitFor();
    expect(await rollNotes(page)).toEqual(corrected);
    await page.getByRole('button', { name: 'As found' }).click();
    await expect(rollNotes(page)).resolves.not.toEqual(corrected);
  });
});

thorough.it('says of a file with nothing pitched in it that it is so, and offers what it can', async () => {
  const random = createRandom(5);
  const rain = new Float32Array(4 * LINE_RATE_HZ).map(() => 0.2 * (random() - 0.5));
  const page = await openFile('rain.wav', rain);
  await page.getByText('No pitched tone stands alone in this file. A cut can still be drawn by hand.').waitFor();
  await dragCut(page, 0.2, 0.8);
  await page.getByRole('button', { name: 'Measure the cut' }).click();
  await page.getByText('No notes were found').waitFor();
  const panel = page.getByRole('region', { name: 'Isolation' });
  expect(await panel.getByLabel('Only the partials of its notes').isDisabled()).toBe(true);
  await panel.getByLabel('Band', { exact: true }).check();
  await panel.getByLabel('Upper edge').fill('1k');
  await panel.getByLabel('Upper edge').press('Enter');
  await panel.getByRole('radio', { name: 'Left out' }).waitFor();
  await panel.getByLabel('Upper edge').fill('50 Hz');
  await panel.getByLabel('Upper edge').press('Enter');
  await page.getByText('The upper edge of the band lies over the lower one.').waitFor();
  await page.context().close();
});
