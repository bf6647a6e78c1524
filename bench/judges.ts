import { createRequire } from 'node:module';
import { PitchDetector } from 'pitchy';
import MusicTempo from 'music-tempo';
import { centsBetween } from '@imprint/core/dsp/pitch';
import { readPiece } from '@imprint/core/reading/piece/piece';
import { median } from '../packages/core/src/reading/statistics';
import { RATE_HZ } from './reading/figure';
import { isTempo, pieces } from './reading/surroundings';
import { pitchErrors } from './reading/tones';

/** What is used of the library, which has no types of its own. */
interface Essentia {
  arrayToVector(samples: Float32Array): unknown;
  PitchYin(
    signal: unknown,
    frameSize: number,
    interpolate: boolean,
    highest: number,
    lowest: number,
    rate: number,
  ): { pitch: number };
  KeyExtractor(
    samples: unknown,
    average: boolean,
    frame: number,
    hop: number,
    hpcp: number,
    high: number,
    peaks: number,
    low: number,
    spectral: number,
    profile: string,
    rate: number,
  ): { key: string; scale: string };
  PercivalBpmEstimator(
    samples: unknown,
    frame: number,
    osFrame: number,
    hop: number,
    osHop: number,
    high: number,
    low: number,
    rate: number,
  ): { bpm: number };
}

interface EssentiaLibrary {
  Essentia: new (wasm: unknown) => Essentia;
  EssentiaWASM: unknown;
}

/**
 * A judge under the AGPL: it is no dependency, so that nothing of it ships, and is put there by hand where it
 * is wanted.
 */
function loadEssentia(): Essentia {
  let library: EssentiaLibrary;
  try {
    // Its modules are scripts that only Node's own loader takes.
    library = createRequire(import.meta.url)('essentia.js') as EssentiaLibrary;
  } catch {
    throw new Error('This bench has a judge that does not come with Imprint: npm install --no-save essentia.js@0.1.3');
  }
  return new library.Essentia(library.EssentiaWASM);
}

const FRAME = 8192;

/** The results of general-purpose analysis libraries on the same sounds, beside ours. */
export function judges(): void {
  const essentia = loadEssentia();
  judgePitch(essentia);
  judgePieces(essentia);
}

function judgePitch(essentia: Essentia): void {
  const detector = PitchDetector.forFloat32Array(FRAME);
  const rows = pitchErrors().map(({ cents, tone, f0Hz }) => {
    const frame = Float32Array.from(tone.subarray(10000, 10000 + FRAME));
    const [pitchy] = detector.findPitch(frame, RATE_HZ);
    const { pitch } = essentia.PitchYin(essentia.arrayToVector(frame), FRAME, true, 4400, 24, RATE_HZ);
    return [cents, centsBetween(f0Hz, pitchy || 1), centsBetween(f0Hz, pitch || 1)].map(Math.abs);
  });
  ['ours', 'pitchy', 'essentia.js, PitchYin'].forEach((name, i) => {
    const errors = rows.map((row) => row[i]);
    const near = errors.filter((cents) => cents <= 5).length;
    const octaves = errors.filter((cents) => cents > 500).length;
    console.log(
      `pitch of ${rows.length} tones, ${name.padEnd(24)}: median ${median(errors).toPrecision(2)} ct, ${near} within 5 ct, ${octaves} octave errors`,
    );
  });
}

/** Names of notes as libraries write them. */
const sharp = (name: string) => ({ Bb: 'A♯', Eb: 'D♯', Ab: 'G♯', Db: 'C♯', Gb: 'F♯' })[name] ?? name.replace('#', '♯');

function judgePieces(essentia: Essentia): void {
  const rows = pieces().map(({ bpm, tonic, mode, sound, sampleRateHz }) => {
    const { tempo, key } = readPiece({ channels: [sound], sampleRateHz });
    const samples = essentia.arrayToVector(sound);
    const judged = essentia.KeyExtractor(samples, true, 4096, 4096, 12, 3500, 60, 25, 0.2, 'bgate', sampleRateHz);
    const beats = essentia.PercivalBpmEstimator(samples, 1024, 2048, 128, 128, 210, 50, sampleRateHz);
    return {
      plain: mode === 'major' || mode === 'minor',
      tempo: {
        ours: isTempo(tempo.bpm, bpm),
        essentia: isTempo(beats.bpm, bpm),
        musicTempo: isTempo(tempoOf(sound), bpm),
      },
      key: {
        ours: key.tonic === tonic && key.mode === mode,
        essentia: sharp(judged.key) === tonic && judged.scale === mode,
      },
    };
  });
  const count = (of: (row: (typeof rows)[number]) => boolean, among = rows) =>
    `${among.filter(of).length} of ${among.length}`;
  console.log(
    `tempo within 0.5 %, the octave left open: ours ${count(({ tempo }) => tempo.ours)}, essentia.js ${count(({ tempo }) => tempo.essentia)}, music-tempo ${count(({ tempo }) => tempo.musicTempo)}`,
  );
  const plain = rows.filter((row) => row.plain);
  console.log(
    `key with mode: ours ${count(({ key }) => key.ours)}, essentia.js, which knows major and minor, ${count(({ key }) => key.essentia)}; of major and minor alone ours ${count(({ key }) => key.ours, plain)}, essentia.js ${count(({ key }) => key.essentia, plain)}`,
  );
}

function tempoOf(sound: Float32Array): number | null {
  try {
    return Number(new MusicTempo(Array.from(sound)).tempo);
  } catch {
    // It throws where it finds no beat.
    return null;
  }
}
