import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import type { Steps } from '../steps';
import { type Grid, beatLengthSeconds } from './grid';

/** A stretch as long as a cut, whole bars away from it, in which its line is played again. */
export interface RepeatedLine {
  fromSeconds: number;
  toSeconds: number;
  /** From the cut's key. */
  semitones: number;
  /** 0..1: how far the two agree. */
  likeness: number;
}

/** A bar is four beats: common practice, and right for twos, too. */
const BEATS_A_BAR = 4;
/** A cut that is shorter than this share of a bar is a note, not a line. */
const LEAST_BARS = 0.85;
const FRAMES_A_BEAT = 8;
const WINDOW_SECONDS = 0.18;
const LOWEST_HZ = 55;
const OCTAVES = 6;
const BINS_A_SEMITONE = 3;
/** Over so many semitones around levels are made even: what is left are partials, not hits and noise. */
const EVEN_SEMITONES = 4;
const FURTHEST_SEMITONES = 12;
const ALIKE = 0.6;
const MOST = 8;
const FRAMES_A_STEP = 40;

/**
 * Looks through a piece for the bars in which the line of a cut is played again, in its own key or another:
 * levels over time and logarithmic frequency, evened out, correlated at every distance of whole bars and
 * every interval to an octave. Other keys come first, then what is most alike.
 */
export function* repeatedLineSteps(
  mono: ArrayLike<number>,
  sampleRateHz: number,
  { fromSeconds, toSeconds }: { fromSeconds: number; toSeconds: number },
  grid: Grid,
): Steps<RepeatedLine[]> {
  const beat = beatLengthSeconds(grid);
  const bar = BEATS_A_BAR * beat;
  if (toSeconds - fromSeconds < LEAST_BARS * bar) return [];
  const hop = beat / FRAMES_A_BEAT;
  const frames = Math.round((toSeconds - fromSeconds) / hop);
  const perBar = BEATS_A_BAR * FRAMES_A_BEAT;
  const before = Math.floor(fromSeconds / bar);
  const count = Math.floor((mono.length / sampleRateHz - fromSeconds) / hop) + before * perBar;
  const rows = yield* rowsOf(mono, sampleRateHz, fromSeconds - before * bar, hop, count);
  const own = rows.slice(before * perBar, before * perBar + frames);
  const found: RepeatedLine[] = [];
  for (let first = 0; first + frames <= count; first += perBar) {
    const distance = Math.abs(first - before * perBar);
    if (distance < frames) continue;
    const other = rows.slice(first, first + frames);
    let best = { semitones: 0, likeness: -1 };
    for (let semitones = -FURTHEST_SEMITONES; semitones <= FURTHEST_SEMITONES; semitones++) {
      const likeness = likenessOf(own, other, semitones * BINS_A_SEMITONE);
      if (likeness > best.likeness) best = { semitones, likeness };
    }
    if (best.likeness < ALIKE) continue;
    const at = fromSeconds + (first - before * perBar) * hop;
    found.push({ ...best, fromSeconds: at, toSeconds: at + toSeconds - fromSeconds });
  }
  return spread(found);
}

/** Not twice the same time; one of each key first. */
function spread(found: RepeatedLine[]): RepeatedLine[] {
  const keys = new Set([0]);
  const rank = new Map<RepeatedLine, number>();
  found.sort((a, b) => b.likeness - a.likeness);
  for (const line of found) {
    rank.set(line, keys.has(line.semitones) ? 1 : 0);
    keys.add(line.semitones);
  }
  found.sort((a, b) => rank.get(a)! - rank.get(b)!);
  const kept: RepeatedLine[] = [];
  for (const line of found)
    if (!kept.some((other) => line.fromSeconds < other.toSeconds - 1e-6 && line.toSeconds > other.fromSeconds + 1e-6))
      kept.push(line);
  return kept.slice(0, MOST);
}

/** What stands out at every frame, by logarithmic frequency. */
function* rowsOf(
  mono: ArrayLike<number>,
  sampleRateHz: number,
  startSeconds: number,
  hopSeconds: number,
  count: number,
): Steps<Float32Array[]> {
  const size = 2 ** Math.round(Math.log2(WINDOW_SECONDS * sampleRateHz));
  const spectrum = createFrameSpectrum(size);
  const { real, imaginary } = spectrum;
  const bins = 12 * OCTAVES * BINS_A_SEMITONE;
  const places = Float64Array.from(
    { length: bins },
    (_, i) => (LOWEST_HZ * 2 ** (i / BINS_A_SEMITONE / 12) * size) / sampleRateHz,
  );
  const levels = new Float64Array(bins);
  const sums = new Float64Array(bins + 1);
  const reach = (EVEN_SEMITONES * BINS_A_SEMITONE) / 2;
  const rows: Float32Array[] = [];
  for (let frame = 0; frame < count; frame++) {
    if (frame % FRAMES_A_STEP === 0) yield frame / count;
    spectrum.transform(mono, Math.round((startSeconds + (frame + 0.5) * hopSeconds) * sampleRateHz) - size / 2);
    for (let i = 0; i < bins; i++) {
      const k = Math.floor(places[i]);
      const share = places[i] - k;
      const [a, b] = [k, k + 1].map((bin) => Math.hypot(real[bin] ?? 0, imaginary[bin] ?? 0));
      levels[i] = Math.log1p(20 * (a + share * (b - a)));
      sums[i + 1] = sums[i] + levels[i];
    }
    rows.push(
      Float32Array.from(levels, (level, i) => {
        const [from, to] = [Math.max(0, i - reach), Math.min(bins, i + reach + 1)];
        return Math.max(0, level - (sums[to] - sums[from]) / (to - from));
      }),
    );
  }
  return rows;
}

/** Cosine of the angle between two stretches, the second moved down by some bins. */
function likenessOf(a: readonly Float32Array[], b: readonly Float32Array[], moved: number): number {
  let [product, powerA, powerB] = [0, 0, 0];
  a.forEach((row, frame) => {
    const other = b[frame];
    const from = Math.max(0, -moved);
    const to = Math.min(row.length, row.length - moved);
    for (let i = from; i < to; i++) {
      product += row[i] * other[i + moved];
      powerA += row[i] * row[i];
      powerB += other[i + moved] * other[i + moved];
    }
  });
  return product / Math.sqrt(powerA * powerB + 1e-12);
}
