import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeMidiFile } from '@imprint/core/formats/midi';
import { readWav, writeWav } from '@imprint/core/formats/wav';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { readingSchema } from '@imprint/core/reading/schema';
import { run } from './program';
import { comparisonSchema } from '@imprint/core/matching/comparison';
import { thorough } from '../../core/test/thorough';

const root = join(import.meta.dirname, '../../..');
const folder = mkdtempSync(join(tmpdir(), 'imprint-cli-'));
const file = (name: string) => join(folder, name);
const cue = join(root, 'demo/audio/clockwork-tide.flac');
afterAll(() => rmSync(folder, { recursive: true }));

/** As a person calls it, in a process of its own. */
function imprint(...words: string[]) {
  const { status, stdout, stderr } = spawnSync('npm', ['run', '-s', 'imprint', '--', ...words], {
    cwd: root,
    encoding: 'utf8',
  });
  return { status, stdout, stderr: stderr.split('\n').filter((line) => line && !line.startsWith('npm warn')) };
}

/** The same without the time that a process takes to start. */
async function runHere(...words: string[]) {
  const said = { stdout: '', stderr: '' };
  const spies = (['stdout', 'stderr'] as const).map((name) =>
    jest.spyOn(process[name], 'write').mockImplementation((text) => {
      said[name] += text as string;
      return true;
    }),
  );
  const status = await run(words).finally(() => spies.forEach((spy) => spy.mockRestore()));
  return { status, ...said };
}

describe('imprint', () => {
  it('reads a span into the JSON of the contract', () => {
    const { status, stdout } = imprint('read', cue, '--to', '2.2', '--json');
    expect(status).toBe(0);
    const reading = readingSchema.parse(JSON.parse(stdout));
    expect(reading.notes[0].midi).toBe(64);
    expect(reading.traits.pitch.f0Hz).toBeCloseTo(329.6, 0);
    expect(reading.durationSeconds).toBeCloseTo(2.2, 3);
    for (const block of [
      'pitch',
      'loudness',
      'brightness',
      'partials',
      'noise',
      'unison',
      'width',
      'space',
      'dirt',
    ] as const) {
      expect(reading.traits[block].confidence).toBeGreaterThanOrEqual(0);
    }
  });

  it('rebuilds a tone: patch, proof, recipe and report, which compare and render take up', async () => {
    // A saw of 0.7 s with a fall, by formula: how near a match comes is told elsewhere.
    const saw = Float32Array.from({ length: 0.8 * 44100 }, (_, i) => {
      const seconds = i / 44100;
      return seconds < 0.7 ? 0.4 * Math.exp(-2 * seconds) * (2 * ((220 * seconds) % 1) - 1) : 0;
    });
    writeFileSync(file('saw.wav'), writeWav({ channels: [saw], sampleRateHz: 44100 }, 'int16'));
    const { status, stdout } = imprint('match', file('saw.wav'), '--renders', '40', '--out', file('out'), '--json');
    expect(status).toBe(0);
    const report = JSON.parse(stdout) as { overallJnd: number; seconds: number; renders: number; stages: unknown[] };
    expect(report).toEqual(JSON.parse(readFileSync(file('out/report.json'), 'utf8')));
    expect(report.overallJnd).toBeLessThan(3);
    expect(report.stages.length).toBeGreaterThan(3);
    for (const name of ['patch.json', 'proof.wav', 'recipe.md']) expect(existsSync(file(`out/${name}`))).toBe(true);

    writeFileSync(
      file('phrase.mid'),
      writeMidiFile([{ onsetSeconds: 0, durationSeconds: 0.3, midi: 57, velocity: 100 }]),
    );
    const toRender = ['render', file('out/patch.json'), '--notes', file('phrase.mid'), '--out', file('r.wav')];
    expect((await runHere(...toRender, '--rate', '48000')).status).toBe(0);
    expect(readWav(new Uint8Array(readFileSync(file('r.wav')))).sampleRateHz).toBe(48000);

    const compared = await runHere('compare', file('out/proof.wav'), file('out/proof.wav'), '--json');
    expect(comparisonSchema.parse(JSON.parse(compared.stdout)).overallJnd).toBe(0);
  });

  it('ends with the status of a word that was not understood', () => {
    const { status, stderr } = imprint('sing');
    expect(status).toBe(2);
    expect(stderr).toEqual(["imprint: unknown command 'sing'"]);
  });

  thorough.it('speaks to people without --json', async () => {
    const { stdout } = await runHere('read', cue, '--to', '2.2');
    expect(stdout).toContain('E4');
    // The tempo and the key are those of the whole cue.
    expect(stdout).toMatch(/Piece {7}(52|104|208)\.\d BPM, E phrygian/);
    expect(stdout).toMatch(/Space .*echo every 0\.4\d+ s/);
    expect(stdout).toContain('not sure: ');
  });

  it.each([
    ['no such file', ['read', 'nowhere.wav'], 'nowhere.wav: there is no such file.'],
    ['no sound', ['read', join(root, 'package.json')], 'not a sound file'],
    ['a span outside', ['read', cue, '--from', '100'], 'it runs from 0 to'],
    ['a word for a number', ['read', cue, '--from', 'soon'], 'a number is expected'],
    ['a command that is none', ['sing'], "unknown command 'sing'"],
    ['nothing to play', ['render', file('p.json'), '--out', file('x.wav')], 'Say what to play'],
    [
      'a note out of range',
      ['render', file('p.json'), '--note', '200', '--out', file('x.wav')],
      'MIDI notes run from 0 to 127',
    ],
    [
      'no patch',
      ['render', join(root, 'package.json'), '--note', '60', '--out', file('x.wav')],
      'not an Imprint patch',
    ],
    ['silence', ['read', file('silent.wav')], 'silent'],
    ['a spoilt Opus file', ['read', file('spoilt.opus')], 'damaged'],
    ['an MP3 header before noise', ['read', file('noise.mp3')], 'no sound follows'],
    ['a place that cannot be written to', ['backup', '/proc/nothing.tar'], 'cannot be written'],
    ['no archive', ['restore', file('nowhere.tar')], 'there is no such file'],
  ])('answers %s with one line and exit 2', async (_name, words, message) => {
    writeFileSync(file('p.json'), JSON.stringify(emptyPatch()));
    const opus = readFileSync(join(root, 'packages/core/test/sounds/tone.opus'));
    // In the tables that say how its channels are coded.
    opus.fill(0xa5, 40, 400);
    writeFileSync(file('spoilt.opus'), opus);
    const mp3 = readFileSync(join(root, 'packages/core/test/sounds/tone.mp3'));
    writeFileSync(file('noise.mp3'), Buffer.concat([mp3.subarray(0, 300), randomBytes(9000)]));
    writeFileSync(file('silent.wav'), writeWav({ channels: [new Float32Array(44100)], sampleRateHz: 44100 }, 'int16'));
    const { status, stdout, stderr } = await runHere(...words);
    expect(status).toBe(2);
    expect(stdout).toBe('');
    expect(stderr.trimEnd().split('\n')).toHaveLength(1);
    expect(stderr).toContain(message);
  });
});
