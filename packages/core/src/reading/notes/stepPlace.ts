import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { fitLine, rmsOf } from '../statistics';
import { RISE_FRAME, RISE_HOP_SECONDS } from './rises';

/** Told onsets this much of one mind tell where steps begin. */
const OF_ONE_MIND = 0.7;
/** Those that are told to be this much of a step off have no say. */
const OFF_SHARE = 0.2;
const LEAST_TOLD = 5;
/** A step that they tell is no further off than this. */
const EXACT_SHARE = 0.006;

/** The step, made exact, and where in it notes begin. */
export function placeOf(
  mono: Float64Array,
  sampleRateHz: number,
  step: number,
  onsets: readonly number[],
): { stepSeconds: number; firstSeconds: number } {
  let [cos, sin] = [0, 0];
  for (const at of onsets) {
    cos += Math.cos((2 * Math.PI * at) / step) / onsets.length;
    sin += Math.sin((2 * Math.PI * at) / step) / onsets.length;
  }
  const isTold = Math.hypot(cos, sin) > OF_ONE_MIND;
  const start = isTold ? (Math.atan2(sin, cos) / (2 * Math.PI)) * step : breakOf(mono, sampleRateHz, step);
  const first = start - step * Math.floor(start / step);
  if (!isTold) return { stepSeconds: step, firstSeconds: first };
  const turns = onsets.map((at) => Math.round((at - first) / step));
  const near = onsets.flatMap((at, i) => (Math.abs(at - first - turns[i] * step) < OFF_SHARE * step ? [i] : []));
  const line = fitLine(
    near.map((i) => turns[i]),
    near.map((i) => onsets[i]),
    near.map(() => 1),
  );
  // A straight line through few of them says nothing.
  if (near.length < LEAST_TOLD || Math.abs(line.slope / step - 1) > EXACT_SHARE)
    return { stepSeconds: step, firstSeconds: first };
  return {
    stepSeconds: line.slope,
    firstSeconds: line.intercept - line.slope * Math.floor(line.intercept / line.slope),
  };
}

const BREAK_BINS_SECONDS = 0.01;
/** Frames apart, in hops. */
const BREAK_LAG = 4;
const BREAK_TO_HZ = 5000;
/** Slow starts break what sounded before them only once they are loud enough. */
const BREAK_LATE_SECONDS = 0.01;
/** Of several breaks within a step, those this clear against the clearest may be the start. */
const CLEAR_BREAK = 0.4;
const SILENT_SHARE = 0.01;
const SILENCE_SECONDS = 0.02;

/**
 * Where in the step what sounds is least what it would have become, had it gone on (the complex domain of
 * Bello, Duxbury, Davies & Sandler 2004, over all turns).
 */
function breakOf(mono: Float64Array, sampleRateHz: number, stepSeconds: number): number {
  const hop = Math.round(RISE_HOP_SECONDS * sampleRateHz);
  const spectrum = createFrameSpectrum(RISE_FRAME);
  const top = Math.round((Math.min(BREAK_TO_HZ, 0.45 * sampleRateHz) * RISE_FRAME) / sampleRateHz);
  const bins = Math.max(6, Math.round(stepSeconds / BREAK_BINS_SECONDS));
  const sums = new Float64Array(bins);
  const counts = new Float64Array(bins);
  const seen: { real: Float64Array; imaginary: Float64Array }[] = [];
  for (let frame = 0; (frame + 1) * hop < mono.length; frame++) {
    spectrum.transform(mono, frame * hop - RISE_FRAME / 2);
    seen.push({ real: spectrum.real.slice(0, top), imaginary: spectrum.imaginary.slice(0, top) });
    if (seen.length > 2 * BREAK_LAG + 1) seen.shift();
    if (seen.length <= 2 * BREAK_LAG) continue;
    const [a, b, c] = [seen[0], seen[BREAK_LAG], seen[2 * BREAK_LAG]];
    const middle = ((frame - BREAK_LAG) * hop) / sampleRateHz / stepSeconds;
    const bin = Math.floor((middle - Math.floor(middle)) * bins);
    let apart = 0;
    let whole = 1e-9;
    for (let k = 1; k < top; k++) {
      const before = Math.sqrt(a.real[k] ** 2 + a.imaginary[k] ** 2) + 1e-12;
      const now = Math.sqrt(b.real[k] ** 2 + b.imaginary[k] ** 2) + 1e-12;
      // What turned so far from the one before turns as far again.
      const turnRe = (b.real[k] * a.real[k] + b.imaginary[k] * a.imaginary[k]) / (before * now);
      const turnIm = (b.imaginary[k] * a.real[k] - b.real[k] * a.imaginary[k]) / (before * now);
      const re = b.real[k] * turnRe - b.imaginary[k] * turnIm;
      const im = b.real[k] * turnIm + b.imaginary[k] * turnRe;
      apart += Math.sqrt((c.real[k] - re) ** 2 + (c.imaginary[k] - im) ** 2);
      whole += Math.max(now, Math.sqrt(c.real[k] ** 2 + c.imaginary[k] ** 2));
    }
    sums[bin] += apart / whole;
    counts[bin]++;
  }
  const means = sums.map((sum, bin) => sum / Math.max(1, counts[bin]));
  const around = means.map((at, bin) => means[(bin + bins - 1) % bins] + 2 * at + means[(bin + 1) % bins]);
  const least = Math.min(...around);
  const clear = least + CLEAR_BREAK * (Math.max(...around) - least);
  const startOf = (bin: number) => ((bin + 0.5) / bins) * stepSeconds - BREAK_LATE_SECONDS;
  const [best, ...others] = Array.from(around.keys())
    .filter((bin) => around[bin] >= clear)
    .sort((a, b) => around[b] - around[a])
    .map(startOf);
  const first = startFromSilence(mono, sampleRateHz);
  if (first === undefined) return best;
  const offOf = (start: number) => Math.abs(start - first - stepSeconds * Math.round((start - first) / stepSeconds));
  return others.reduce((a, b) => (offOf(b) < offOf(a) ? b : a), best);
}

/** Where the first note begins, if there is silence before it. */
function startFromSilence(mono: Float64Array, sampleRateHz: number): number | undefined {
  const hop = Math.round(RISE_HOP_SECONDS * sampleRateHz);
  const levels = Float64Array.from({ length: Math.floor(mono.length / hop) }, (_, i) =>
    rmsOf(mono, i * hop, (i + 1) * hop),
  );
  const loudest = levels.reduce((a, b) => Math.max(a, b), 0);
  const first = levels.findIndex((level) => level > SILENT_SHARE * loudest);
  const seconds = (first * hop) / sampleRateHz;
  return seconds > SILENCE_SECONDS ? seconds : undefined;
}
