import { fftOfSize } from '../../dsp/fft';

const BINS = 2 ** 14;
/** A finer grid looks like the noise of a file; of a coarser one any waveform has few values. */
const MOST_LEVELS = 1024;
const LEAST_LEVELS = 6;
/** Share of the values that stand on a grid, as the length of their mean direction. */
const ON_GRID = 0.8;
/** So many levels at least hold half of the samples: a pulse has two, whatever the grid. */
const LEAST_SPREAD = 4;

/**
 * The step of a grid that samples stand on, under noise as well; undefined without one. Values on a grid turn
 * once a step: the characteristic function of their distribution comes back to 1 there. Source: Widrow &
 * Kollár, Quantization Noise (2008), ch. 4.
 */
export function stepOfValues(samples: Float64Array): number | undefined {
  const top = samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  if (top === 0) return undefined;
  // Twice as long as the values reach, so that no peak falls between two places.
  const [re, im] = [new Float64Array(2 * BINS), new Float64Array(2 * BINS)];
  for (const x of samples) re[Math.min(BINS - 1, Math.floor(((x / top + 1) / 2) * BINS))] += 1 / samples.length;
  fftOfSize(2 * BINS).forward(re, im);
  const shareAt = (place: number) => Math.hypot(re[place], im[place]);
  for (let place = 2 * LEAST_LEVELS; place < 2 * MOST_LEVELS; place++) {
    const [before, at, after] = [shareAt(place - 1), shareAt(place), shareAt(place + 1)];
    if (at < ON_GRID || at < before || at < after) continue;
    const offset = (before - after) / (2 * (before - 2 * at + after));
    const step = (4 * top) / (place + offset);
    return isSpread(samples, step) ? step : undefined;
  }
  return undefined;
}

function isSpread(samples: Float64Array, step: number): boolean {
  const counts = new Map<number, number>();
  for (const x of samples) counts.set(Math.round(x / step), (counts.get(Math.round(x / step)) ?? 0) + 1);
  const largest = [...counts.values()].sort((a, b) => b - a).slice(0, LEAST_SPREAD - 1);
  return largest.reduce((sum, count) => sum + count, 0) < samples.length / 2;
}
