import { decibelsFromGain } from '../../dsp/decibels';
import { fitLine } from '../statistics';

export type PlainShape = 'sine' | 'triangle' | 'saw' | 'square' | 'pulse';

const PLAIN = ['sine', 'triangle', 'saw', 'square'] as const;

/** Amplitude of partial n of a plain waveform, by its Fourier series. */
export function shapeAmplitude(shape: PlainShape, pulseWidth: number | null, n: number): number {
  if (shape === 'sine') return n === 1 ? 1 : 0;
  if (shape === 'triangle') return n % 2 ? 1 / (n * n) : 0;
  if (shape === 'saw') return 1 / n;
  if (shape === 'square') return n % 2 ? 1 / n : 0;
  return Math.abs(Math.sin(Math.PI * n * (pulseWidth ?? 0.5))) / n;
}

/**
 * Where partial n of a plain waveform stands as its period begins in a patch, in cycles of a cosine: sine,
 * saw and triangle rise through nought, a pulse is high up to the middle of its period (Fourier series).
 */
export function shapeCycles(shape: PlainShape, pulseWidth: number | null, n: number): number {
  if (shape === 'square' || shape === 'pulse') {
    const width = pulseWidth ?? 0.5;
    // Amplitudes are counted as positive.
    return (-n * (1 - width)) / 2 + (Math.sin(Math.PI * n * width) < 0 ? 0.5 : 0);
  }
  const falls = (shape === 'saw' && n % 2 === 0) || (shape === 'triangle' && n % 4 === 3);
  return falls ? 0.25 : -0.25;
}

/** Partials compared with the plain shapes; higher ones say more about a filter than about the source. */
const COMPARED = 12;
const FLOOR_DB = -60;

/**
 * The plain waveform whose partials are nearest, each allowed a straight tilt of its own so that a filter or
 * a bright drive does not hide it. Levels by the Fourier series of each shape.
 *
 * @param levelsDb partials 1..n in dB, relative to the strongest
 */
export function nearestShape(levelsDb: readonly number[]): {
  shape: PlainShape;
  pulseWidth: number | null;
  errorDb: number;
} {
  const heard = levelsDb.slice(0, COMPARED);
  const candidates = PLAIN.map((shape) => ({
    shape,
    pulseWidth: shape === 'square' ? 0.5 : null,
    errorDb: distance(heard, (n) => shapeAmplitude(shape, null, n)),
  })) as { shape: PlainShape; pulseWidth: number | null; errorDb: number }[];
  for (let width = 0.05; width < 0.46; width += 0.01) {
    const errorDb = distance(heard, (n) => shapeAmplitude('pulse', width, n)) + 0.5;
    candidates.push({ shape: 'pulse', pulseWidth: Math.round(width * 100) / 100, errorDb });
  }
  return candidates.reduce((best, candidate) => (candidate.errorDb < best.errorDb ? candidate : best));
}

function distance(levelsDb: readonly number[], amplitude: (n: number) => number): number {
  const expected = levelsDb.map((_, i) => decibelsFromGain(amplitude(i + 1), FLOOR_DB));
  const strongest = Math.max(...expected);
  let sum = 0;
  let weight = 0;
  levelsDb.forEach((level, i) => {
    const heard = Math.max(FLOOR_DB, level);
    const wanted = Math.max(FLOOR_DB, expected[i] - strongest);
    // What is loud in either counts; two partials that are both gone agree and say little.
    const w = (0.1 + 10 ** (Math.max(heard, wanted) / 20)) / (i + 1) ** 0.3;
    sum += w * (heard - wanted) ** 2;
    weight += w;
  });
  return Math.sqrt(sum / weight);
}

/** Mean level of odd partials over even ones, dB, over partials 2..9. */
export function oddMinusEvenDb(levelsDb: readonly number[]): number | null {
  if (levelsDb.length < 4) return null;
  const part = (first: number) => {
    const values = [];
    for (let n = first; n <= 9 && n <= levelsDb.length; n += 2) values.push(Math.max(FLOOR_DB, levelsDb[n - 1]));
    return values.reduce((a, b) => a + b, 0) / values.length;
  };
  return part(3) - part(2);
}

/**
 * Slope of the partials over log2 of their number, dB per octave, over those within 60 dB of the strongest.
 */
export function tiltDbPerOctave(levelsDb: readonly number[]): number | null {
  const heard = [...levelsDb.entries()].filter(([, level]) => level > FLOOR_DB).slice(0, 64);
  if (heard.length < 2) return null;
  const octaves = heard.map(([i]) => Math.log2(i + 1));
  return fitLine(
    octaves,
    heard.map(([, level]) => level),
    heard.map(([i]) => 1 / (i + 1)),
  ).slope;
}

const STANDOUT_DB = 8;
const CLEAR_DB = 3;
const LEAST_STANDOUT_DB = -40;
const STANDOUT_FLOOR_DB = -80;

/**
 * Partials at least 8 dB over the mean of their two neighbours on each side and clearly over each of them,
 * all as they would be without the tone's own tilt; within 40 dB of the strongest.
 */
export function standoutPartials(levelsDb: readonly number[]): number[] {
  const tilt = tiltDbPerOctave(levelsDb) ?? 0;
  const found: number[] = [];
  for (let n = 2; n < levelsDb.length; n++) {
    const level = levelsDb[n - 1];
    if (level < LEAST_STANDOUT_DB) continue;
    const around = [n - 2, n - 1, n + 1, n + 2].filter((m) => m >= 1 && m <= levelsDb.length);
    const neighbours = around.map((m) => Math.max(STANDOUT_FLOOR_DB, levelsDb[m - 1]) - tilt * Math.log2(m / n));
    const usual = neighbours.reduce((a, b) => a + b, 0) / neighbours.length;
    if (level - usual >= STANDOUT_DB && level > Math.max(...neighbours) + CLEAR_DB) found.push(n);
  }
  return found;
}
