import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeWav } from '@imprint/core/formats/wav';
import { InputError } from '@imprint/core/patch/inputError';
import { inspectSound } from '@imprint/server/import/inspectSound';
import { root } from './server';
import { createRandom } from '../../packages/core/test/signals';

/** Valid files of every format, as sox and this project's own writers make them. */
function validFiles(): [string, Uint8Array][] {
  const channel = Float32Array.from({ length: 22050 }, (_, i) => 0.4 * Math.sin(0.06 * i) * Math.exp(-i / 9000));
  const wav = (encoding: 'int16' | 'int24' | 'float32') =>
    writeWav({ channels: [channel, channel], sampleRateHz: 44100 }, encoding);
  const sounds = ['tone.aiff', 'tone.flac', 'tone.mp3', 'tone.ogg', 'tone.opus'].map((name): [string, Uint8Array] => [
    name,
    new Uint8Array(readFileSync(join(root, 'packages/core/test/sounds', name))),
  ]);
  return [
    ...sounds,
    ['16.wav', wav('int16')],
    ['24.wav', wav('int24')],
    ['float.wav', wav('float32')],
    ['40.aiff', aiff40()],
  ];
}

/** Forty bits a sample, which no one writes and a header can say. */
function aiff40(): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), 'imprint-aiff-'));
  const file = join(folder, 'a.aiff');
  execFileSync('sox', ['-n', '-r', '44100', '-b', '24', file, 'synth', '0.3', 'sine', '440']);
  const bytes = new Uint8Array(readFileSync(file));
  rmSync(folder, { recursive: true });
  const at = Buffer.from(bytes).indexOf('COMM');
  bytes[at + 15] = 40;
  return bytes;
}

type Mutation = (bytes: Uint8Array, random: () => number) => Uint8Array;

const mutations: Record<string, Mutation> = {
  'bytes changed': (bytes, random) => {
    const changed = bytes.slice();
    for (let i = 0; i < 1 + 30 * random(); i++) changed[Math.floor(changed.length * random())] = 256 * random();
    return changed;
  },
  'header changed': (bytes, random) => {
    const changed = bytes.slice();
    for (let i = 0; i < 1 + 6 * random(); i++) changed[Math.floor(120 * random())] = 256 * random();
    return changed;
  },
  'cut off': (bytes, random) => bytes.slice(0, Math.floor(bytes.length * random())),
  'stretch overwritten': (bytes, random) => {
    const changed = bytes.slice();
    const start = Math.floor(changed.length * random());
    for (let i = start; i < Math.min(changed.length, start + 4000 * random()); i++) changed[i] = 256 * random();
    return changed;
  },
  'header before noise': (bytes, random) => {
    const changed = bytes.slice();
    for (let i = 64; i < changed.length; i++) changed[i] = 256 * random();
    return changed;
  },
  'largest numbers': (bytes, random) => {
    const changed = bytes.slice();
    const start = Math.floor(100 * random());
    for (let i = start; i < start + 4; i++) changed[i] = 0xff;
    return changed;
  },
  twice: (bytes) => Uint8Array.of(...bytes.subarray(0, 60_000), ...bytes.subarray(0, 60_000)),
};

/**
 * Inspects mutated files as an upload would; each must be taken, or refused in a sentence, in time and
 * memory.
 */
export async function files(count: number, seed = 2): Promise<boolean> {
  const random = createRandom(seed);
  const folder = mkdtempSync(join(tmpdir(), 'imprint-files-'));
  const valid = validFiles();
  const names = Object.keys(mutations);
  let taken = 0;
  let refused = 0;
  const faults: string[] = [];
  let slowestSeconds = 0;
  const one = async (i: number) => {
    const [name, bytes] = valid[i % valid.length];
    const kind = names[Math.floor(i / valid.length) % names.length];
    const path = join(folder, `${i}-${name}`);
    writeFileSync(path, mutations[kind](bytes, random));
    const started = Date.now();
    try {
      await inspectSound(path);
      taken++;
    } catch (error) {
      const { message } = error as Error;
      if (
        error instanceof InputError &&
        /^This .*\.$/s.test(message) &&
        !/stops its decoder|was not read/.test(message)
      )
        refused++;
      else faults.push(`${name}, ${kind}: ${message}`);
    }
    slowestSeconds = Math.max(slowestSeconds, (Date.now() - started) / 1000);
    rmSync(path);
  };
  for (let i = 0; i < count; i += 2) await Promise.all([one(i), ...(i + 1 < count ? [one(i + 1)] : [])]);
  rmSync(folder, { recursive: true });
  for (const fault of faults.slice(0, 10)) console.log(`  ${fault}`);
  console.log(
    `files: ${count} mutated files of ${valid.length} kinds, ${taken} taken, ${refused} refused in words, ${faults.length} faults; the slowest took ${slowestSeconds.toFixed(1)} s`,
  );
  return faults.length === 0;
}
