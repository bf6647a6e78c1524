import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import type { Edges } from './edges';

/** A stretch of a tail that is what was heard so long before, only softer. */
export interface Copy {
  seconds: number;
  /** Of the unlikeness at the next best time: how much is left at this one. */
  left: number;
  /** Whether the tone is as like itself while it is held, so that this says little. */
  isAlways: boolean;
}

const WINDOW_SECONDS = 0.15;
/** A stretch begins so long after the tone may have been let go: its own release is over by one of them. */
const LATER_SECONDS = [0.03, 0.08, 0.15, 0.25];
const LEAST_APART_SECONDS = 0.03;
/** Nearer copies are told from the periods of a release by nothing. */
export const LEAST_SECONDS = 0.1;
const MOST_SECONDS = 1.35;
const LEAST_CORRELATION = 0.9;
/** A tone that is as like itself while it is held comes round by itself. */
const ALWAYS_CORRELATION = 0.75;
/** What goes on as loud as it was is the tone itself. */
const LOUDEST_DB = -4.5;
/** The period of a tone makes every time look alike: the right one leaves this much less than any other. */
const MOST_LEFT = 0.5;
/** Times as near as this are the same. */
const SAME = 0.02;

/**
 * The times after which a tail is heard again, clearest first: of every stretch of it the one whose
 * normalized cross-correlation (Knapp & Carter 1976) with what was heard before stands out from that of all
 * others. Of a tone that hardly moves it may be off by periods.
 *
 * @param edges the wave with its highs raised: the fundamental is like itself at every time
 * @param startsSeconds where the tone may be let go, by the clock of the contour
 * @param untilSeconds where it has died away
 */
export function copiesOf(edges: Edges, startsSeconds: readonly number[], untilSeconds: number): Copy[] {
  const { channels, sampleRateHz, fromSeconds } = edges;
  const wave = channels[0].map((_, i) => channels.reduce((sum, channel) => sum + channel[i], 0));
  const window = Math.round(WINDOW_SECONDS * sampleRateHz);
  const end = Math.min(wave.length, (untilSeconds - fromSeconds) * sampleRateHz) - window;
  return startsSeconds
    .flatMap((start) => LATER_SECONDS.map((later) => ({ start, at: start + later - fromSeconds })))
    .sort((a, b) => a.at - b.at)
    .filter(({ at }, i, all) => i === 0 || at > all[i - 1].at + LEAST_APART_SECONDS)
    .map(({ start, at }) => ({ start, begin: Math.round(at * sampleRateHz) }))
    .filter(({ begin }) => begin <= end)
    .map(({ start, begin }) => {
      const copy = copyAt(wave, begin, window, sampleRateHz);
      const held = Math.round((start - fromSeconds) * sampleRateHz) - window;
      return copy && { ...copy, isAlways: isLike(wave, held, window, Math.round(copy.seconds * sampleRateHz)) };
    })
    .filter((copy) => copy !== undefined)
    .sort((a, b) => a.left - b.left);
}

/** Times are looked at between samples, too: a bright tone is another one half a sample later. */
const PARTS = 2;

function copyAt(wave: Float64Array, begin: number, window: number, rateHz: number): Omit<Copy, 'isAlways'> | undefined {
  const least = Math.round(LEAST_SECONDS * rateHz);
  const most = Math.min(begin, Math.round(MOST_SECONDS * rateHz));
  if (most <= least) return undefined;
  const heard = wave.subarray(begin, begin + window);
  const before = wave.subarray(begin - most, begin + window);
  const products = slidingProducts(heard, before);
  const power = heard.reduce((sum, x) => sum + x * x, 0);
  // From the furthest back to the nearest.
  const likeness = new Float64Array(PARTS * (most - least));
  let [best, gain] = [0, Infinity];
  let powerBefore = before.subarray(0, window).reduce((sum, x) => sum + x * x, 0);
  for (let i = 0; i < likeness.length; i++) {
    // Of what is softer, or of silence before the tone, nothing is a copy.
    likeness[i] = powerBefore > power ? products[i] / Math.sqrt(power * powerBefore) : -1;
    if (likeness[i] > likeness[best]) [best, gain] = [i, products[i] / powerBefore];
    const from = Math.floor(i / PARTS);
    powerBefore += (before[from + window] ** 2 - before[from] ** 2) / PARTS;
  }
  const lagOf = (i: number) => most - i / PARTS;
  const isSofter = gain < 10 ** (LOUDEST_DB / 20);
  const peak = peakNear(likeness, best);
  if (peak.height < LEAST_CORRELATION || !isSofter) return undefined;
  const isOther = (i: number) => Math.abs(lagOf(i) - lagOf(best)) > SAME * lagOf(best);
  const next = likeness.reduce((max, x, i) => (isOther(i) && (max < 0 || x > likeness[max]) ? i : max), -1);
  if (next < 0) return undefined;
  const left = (1 - peak.height) / (1 - peakNear(likeness, next).height);
  return left < MOST_LEFT ? { seconds: lagOf(peak.at) / rateHz, left } : undefined;
}

/** Whether a stretch is like the one before it by a lag. */
function isLike(wave: Float64Array, begin: number, window: number, lag: number): boolean {
  if (begin < lag) return false;
  let [together, now, before] = [0, 0, 0];
  for (let i = begin; i < begin + window; i++) {
    together += wave[i] * wave[i - lag];
    now += wave[i] ** 2;
    before += wave[i - lag] ** 2;
  }
  return together > ALWAYS_CORRELATION * Math.sqrt(now * before);
}

/** The top of the parabola through a value and those beside it. */
function peakNear(values: Float64Array, at: number): { at: number; height: number } {
  const [before, here, after] = [values[at - 1] ?? values[at], values[at], values[at + 1] ?? values[at]];
  const bend = before - 2 * here + after;
  const shift = bend < 0 ? (before - after) / (2 * bend) : 0;
  return { at: at + shift, height: Math.min(1, here - ((before - after) * shift) / 4) };
}

/** Σ short[i]·long[from + i], for every part of a sample that `from` may be. */
function slidingProducts(short: Float64Array, long: Float64Array): Float64Array {
  const size = nextPowerOfTwo(long.length);
  const fft = fftOfSize(size);
  const [re, im, longRe, longIm] = Array.from({ length: 4 }, () => new Float64Array(size));
  re.set(short);
  longRe.set(long);
  fft.forward(re, im);
  fft.forward(longRe, longIm);
  const [outRe, outIm] = [new Float64Array(PARTS * size), new Float64Array(PARTS * size)];
  for (let k = 0; k < size; k++) {
    const place = k < size / 2 ? k : k + (PARTS - 1) * size;
    outRe[place] = (re[k] * longRe[k] + im[k] * longIm[k]) / size;
    outIm[place] = (re[k] * longIm[k] - im[k] * longRe[k]) / size;
  }
  fftOfSize(PARTS * size).inverse(outRe, outIm);
  return outRe;
}
