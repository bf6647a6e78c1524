/**
 * Writes the demo's sound files and their true settings. Needs Chromium and `sox` from Debian's packages;
 * only for those who change the score, since the results are kept in the repository.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeWav } from '@imprint/core/formats/wav';
import { transformSync } from 'esbuild';
import { launchChromium } from '../scripts/chromium';
import type { Cue } from './cue';
import { score } from './score';

const SAMPLE_RATE_HZ = 44100;
const folder = new URL('./audio/', import.meta.url).pathname;
const code = transformSync(readFileSync(new URL('./synthesizer.ts', import.meta.url), 'utf8'), { loader: 'ts' }).code;

const browser = await launchChromium();
const page = await browser.newPage();
await page.addScriptTag({ content: code });
const scratch = mkdtempSync(join(tmpdir(), 'imprint-demo-'));
for (const cue of score) {
  const [left, right] = await page.evaluate(
    ({ cue, rate }) => (globalThis as unknown as { renderCue: RenderCue }).renderCue(cue, rate),
    { cue, rate: SAMPLE_RATE_HZ },
  );
  const channels = [Float32Array.from(left), Float32Array.from(right)];
  const wav = join(scratch, `${cue.id}.wav`);
  writeFileSync(wav, writeWav({ channels, sampleRateHz: SAMPLE_RATE_HZ }, 'int16'));
  execFileSync('sox', [wav, '-C', '8', join(folder, `${cue.id}.flac`)]);
  writeFileSync(join(folder, `${cue.id}.settings.json`), `${JSON.stringify(settingsOf(cue), null, 2)}\n`);
  const peak = channels.reduce((top, channel) => channel.reduce((a, b) => Math.max(a, Math.abs(b)), top), 0);
  console.log(`${cue.title}: ${(left.length / SAMPLE_RATE_HZ).toFixed(1)} s, peak ${peak.toFixed(2)}`);
}
rmSync(scratch, { recursive: true });
await browser.close();

type RenderCue = (cue: Cue, sampleRateHz: number) => Promise<[number[], number[]]>;

function settingsOf({ id, title, role, note, bpm, key, beats, tone, melody, exposed }: Cue) {
  const beatSeconds = 60 / bpm;
  return {
    id,
    title,
    role,
    note,
    bpm,
    key,
    seconds: beats * beatSeconds,
    tone,
    melody: melody.map(({ beat, beats: length, midi }) => ({
      seconds: beat * beatSeconds,
      length: length * beatSeconds,
      midi,
    })),
    exposed: {
      fromSeconds: exposed.fromBeat * beatSeconds,
      toSeconds: exposed.toBeat * beatSeconds,
      name: exposed.name,
    },
  };
}
