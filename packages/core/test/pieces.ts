import { createRandom } from './signals';

/** A short piece by formula: drums on a grid, chords and a line of a scale. Nothing here uses the engine. */
export interface Piece {
  bpm: number;
  /** 0 for C. */
  tonic: number;
  /** Degrees of the scale in semitones, seven of them. */
  scale: readonly number[];
  seed: number;
  seconds?: number;
  sampleRateHz?: number;
  tuningCents?: number;
}

/**
 * Chords by degree of the scale, home at both ends. Each holds the seventh and the second, and the fourth or
 * the sixth: what tells the modes apart, without which a piece is in either.
 */
const PROGRESSIONS = [
  [0, 6, 3, 0],
  [0, 1, 6, 0],
  [0, 3, 6, 0],
  [0, 6, 5, 0],
];

export function renderPiece({
  bpm,
  tonic,
  scale,
  seed,
  seconds = 16,
  sampleRateHz = 22050,
  tuningCents = 0,
}: Piece): Float32Array {
  const random = createRandom(seed);
  const out = new Float32Array(seconds * sampleRateHz);
  const beat = 60 / bpm;
  const hzOf = (midi: number) => 440 * 2 ** ((midi - 69 + tuningCents / 100) / 12);
  const degree = (n: number, octave: number) => 12 * (octave + Math.floor(n / 7)) + tonic + scale[((n % 7) + 7) % 7];

  const tone = (at: number, length: number, midi: number, level: number) => {
    const from = Math.round(at * sampleRateHz);
    const omega = (2 * Math.PI * hzOf(midi)) / sampleRateHz;
    for (let i = 0; i < length * sampleRateHz && from + i < out.length; i++) {
      const fade = Math.min(1, i / 200) * Math.exp((-2.5 * i) / sampleRateHz / length);
      out[from + i] +=
        level * fade * (Math.sin(omega * i) + 0.4 * Math.sin(2 * omega * i) + 0.2 * Math.sin(3 * omega * i));
    }
  };
  const hit = (at: number, level: number, decay: number) => {
    const from = Math.round(at * sampleRateHz);
    for (let i = 0; i < 0.12 * sampleRateHz && from + i < out.length; i++) {
      out[from + i] += level * (2 * random() - 1) * Math.exp((-decay * i) / sampleRateHz);
    }
  };

  const progression = PROGRESSIONS[seed % PROGRESSIONS.length];
  for (let b = 0; b * beat < seconds; b++) {
    const at = b * beat;
    const root = progression[Math.floor(b / 4) % progression.length];
    if (b % 4 === 0) for (const step of [0, 2, 4]) tone(at, 4 * beat, degree(root + step, 4), 0.12);
    tone(at, beat, degree(root, 3), 0.25);
    if (random() < 0.7) tone(at, beat, degree(root + [0, 2, 4][Math.floor(3 * random())], 5), 0.15);
    if (random() < 0.5) tone(at + beat / 2, beat / 2, degree(Math.floor(7 * random()), 5), 0.1);
    hit(at, b % 2 === 0 ? 0.5 : 0.35, 30);
    if (random() < 0.6) hit(at + beat / 2, 0.12, 80);
  }
  return out;
}
