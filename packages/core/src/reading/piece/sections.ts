import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { type Key, keySteps } from './key';
import { mean, quantile } from '../statistics';
import type { Steps } from '../steps';

/** A stretch of a piece that stays the same kind of sound. */
export interface Section {
  fromSeconds: number;
  toSeconds: number;
  /** The same letter for stretches that sound alike. */
  letter: string;
  /** The key and its runners-up, best first; none where nothing has a pitch. */
  keys: Key[];
}

const HOP_SECONDS = 0.5;
const SIZE_SECONDS = 0.19;
/** Spectra in a hop whose mean stands for it. */
const LOOKS = 3;
const LOWEST_HZ = 55;
const OCTAVES = 7;
const PITCH_CLASSES = 12;
/** Half the kernel, by the length of the piece. */
const REACH = { share: 1 / 12, fromSeconds: 8, toSeconds: 16 };
/** A boundary stands out this far from what a piece does everywhere. */
const LEAST_NOVELTY = 0.03;
const COMPRESSION = 10;
const ALIKE = 0.97;
const MIN_PIECE_SECONDS = 10;
const RUNNERS_UP = 3;

/**
 * The sections of a piece: each half second is told by how its levels are spread over octaves and over pitch
 * classes; where what follows is unlike what was, along the diagonal of their likenesses, one section ends
 * (Foote 2000). In steps of a few milliseconds.
 */
export function* sectionSteps(mono: Float64Array, sampleRateHz: number): Steps<Section[]> {
  const durationSeconds = mono.length / sampleRateHz;
  const features = yield* featureSteps(mono, sampleRateHz);
  const edges = [0, ...(durationSeconds < MIN_PIECE_SECONDS ? [] : boundaries(features)), features.length];
  const sections: Section[] = [];
  const kinds: { letter: string; mean: Float64Array }[] = [];
  for (let i = 0; i + 1 < edges.length; i++) {
    const own = meanOf(features.slice(edges[i], edges[i + 1]));
    let kind = kinds.find((other) => likeness(other.mean, own) > ALIKE);
    if (!kind) kinds.push((kind = { letter: String.fromCharCode(65 + (kinds.length % 26)), mean: own }));
    const before = sections[sections.length - 1];
    const fromSeconds = before?.letter === kind.letter ? sections.pop()!.fromSeconds : edges[i] * HOP_SECONDS;
    const toSeconds = i + 2 === edges.length ? durationSeconds : edges[i + 1] * HOP_SECONDS;
    const key = yield* keySteps(
      mono.subarray(Math.round(fromSeconds * sampleRateHz), Math.round(toSeconds * sampleRateHz)),
      sampleRateHz,
    );
    const keys = key?.candidates.slice(0, RUNNERS_UP) ?? [];
    sections.push({ fromSeconds, toSeconds, letter: kind.letter, keys });
  }
  return sections;
}

/** One row every half second: levels of octaves and of pitch classes, each part of length one. */
function* featureSteps(mono: Float64Array, sampleRateHz: number): Steps<Float64Array[]> {
  const size = 2 ** Math.round(Math.log2(SIZE_SECONDS * sampleRateHz));
  const spectrum = createFrameSpectrum(size);
  const { real, imaginary } = spectrum;
  const places = Int16Array.from(real, (_, k) => {
    const octaves = Math.log2((k * sampleRateHz) / size / LOWEST_HZ);
    return octaves >= 0 && octaves < OCTAVES ? Math.floor(octaves * PITCH_CLASSES + 0.5) : -1;
  });
  const rows: Float64Array[] = [];
  const count = Math.max(1, Math.floor(mono.length / sampleRateHz / HOP_SECONDS));
  for (let i = 0; i < count; i++) {
    if (i % 8 === 0) yield i / count;
    const row = new Float64Array(OCTAVES + PITCH_CLASSES);
    for (let look = 0; look < LOOKS; look++) {
      spectrum.transform(mono, Math.round((i + (look + 0.5) / LOOKS) * HOP_SECONDS * sampleRateHz) - size / 2);
      for (let k = 1; k < real.length; k++) {
        const place = places[k];
        if (place < 0) continue;
        const amplitude = Math.sqrt(real[k] ** 2 + imaginary[k] ** 2);
        row[Math.min(OCTAVES - 1, Math.floor(place / PITCH_CLASSES))] += amplitude;
        row[OCTAVES + (place % PITCH_CLASSES)] += amplitude;
      }
    }
    // What is quiet counts as well: hits stand high up, far under the tones.
    for (let octave = 0; octave < OCTAVES; octave++) row[octave] = Math.log(1 + COMPRESSION * row[octave]);
    toUnitLength(row.subarray(0, OCTAVES));
    toUnitLength(row.subarray(OCTAVES));
    rows.push(row);
  }
  return rows;
}

function toUnitLength(values: Float64Array): void {
  const length = Math.sqrt(values.reduce((sum, x) => sum + x * x, 0));
  for (let i = 0; i < values.length; i++) values[i] = length > 1e-9 ? values[i] / length : 0;
}

/** Both parts count half. */
function likeness(a: Float64Array, b: Float64Array): number {
  let product = 0;
  for (let i = 0; i < a.length; i++) product += a[i] * b[i];
  return product / 2;
}

function meanOf(rows: readonly Float64Array[]): Float64Array {
  const sum = rows[0].map((_, i) => mean(rows.map((row) => row[i])));
  toUnitLength(sum.subarray(0, OCTAVES));
  toUnitLength(sum.subarray(OCTAVES));
  return sum;
}

/** Rows at which a section begins, besides the first. */
function boundaries(features: readonly Float64Array[]): number[] {
  const seconds = features.length * HOP_SECONDS;
  const reach = Math.round(Math.max(REACH.fromSeconds, Math.min(REACH.toSeconds, REACH.share * seconds)) / HOP_SECONDS);
  // Means of what lies before and after, so that the repeats of a bar do not count.
  const novelty = features.map((_, i) => {
    if (i < reach / 2 || features.length - i < reach / 2) return 0;
    const before = meanOf(features.slice(Math.max(0, i - reach), i));
    const after = meanOf(features.slice(i, i + reach));
    return 1 - likeness(before, after);
  });
  const usual = quantile(novelty, 0.5);
  const found: number[] = [];
  const ranked = [...novelty.keys()].sort((a, b) => novelty[b] - novelty[a]);
  for (const i of ranked) {
    if (novelty[i] < LEAST_NOVELTY || novelty[i] < 1.3 * usual) break;
    if (found.every((other) => Math.abs(other - i) >= reach)) found.push(i);
  }
  return found.sort((a, b) => a - b);
}
