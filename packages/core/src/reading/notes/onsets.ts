import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { median } from '../statistics';
import { type Steps, finish } from '../steps';

const SIZE = 2048;
/** About the time between two values of the onset strength, which are whole samples apart. */
const ABOUT_HOP_SECONDS = 0.005;
/** Frames on both sides that a peak must stand out from. */
const AROUND = 20;
const MIN_DISTANCE_SECONDS = 0.05;
/** Of the strongest peak; less is a ripple. */
const MIN_SHARE = 0.08;
const FRAMES_A_STEP = 50;
/** Far from what a number can hold. */
const LARGE = 1e100;

/**
 * Times at which something starts: peaks of the half-wave rectified log-spectral flux over its local median
 * (Bello et al. 2005; Dixon 2006; maximum filter: Böck & Widmer 2013), moved back to where the level begins
 * to rise.
 */
export const findOnsets = (mono: ArrayLike<number>, sampleRateHz: number): number[] =>
  onsetsOf(finish(strengthSteps(mono, sampleRateHz)), mono, sampleRateHz);

/** The onsets of a sound whose onset strength is known. */
export function onsetsOf(flux: Float64Array, mono: ArrayLike<number>, sampleRateHz: number): number[] {
  const hopSeconds = strengthHopSeconds(sampleRateHz);
  const loud = flux.reduce((a, b) => Math.max(a, b), 0);
  if (loud === 0) return [];
  const onsets: number[] = [];
  for (let i = 1; i < flux.length - 1; i++) {
    if (flux[i] < flux[i - 1] || flux[i] < flux[i + 1] || flux[i] < MIN_SHARE * loud) continue;
    const local = median(flux.subarray(Math.max(0, i - AROUND), i + AROUND));
    if (flux[i] < 2 * local + 0.02 * loud) continue;
    const seconds = startOfRise(mono, sampleRateHz, i * hopSeconds);
    if (seconds - (onsets[onsets.length - 1] ?? -1) >= MIN_DISTANCE_SECONDS) onsets.push(seconds);
  }
  return onsets;
}

const strengthHop = (sampleRateHz: number) => Math.round(ABOUT_HOP_SECONDS * sampleRateHz);

/** Time between two values of the onset strength. */
export const strengthHopSeconds = (sampleRateHz: number) => strengthHop(sampleRateHz) / sampleRateHz;

/**
 * So much later than its frame's middle is what a peak of the onset strength stands for: measured on clicks.
 */
export const strengthLeadSeconds = (sampleRateHz: number) => SIZE / 3 / sampleRateHz;

/** Onset strength: how much louder the spectrum has become since the value before, all in all. */
export function* strengthSteps(mono: ArrayLike<number>, sampleRateHz: number): Steps<Float64Array> {
  const hop = strengthHop(sampleRateHz);
  const frames = Math.max(1, Math.floor(mono.length / hop));
  const spectrum = createFrameSpectrum(SIZE);
  const { real, imaginary } = spectrum;
  // One and more of each bin, whose logarithm is its level.
  const levels = new Float64Array(SIZE / 2 + 1).fill(1);
  const previous = new Float64Array(SIZE / 2 + 1).fill(1);
  const flux = new Float64Array(frames);
  for (let frame = 0; frame < frames; frame++) {
    spectrum.transform(mono, frame * hop - SIZE / 2);
    let rise = 0;
    // Rises add up as logarithms: one of a product of many is enough.
    let product = 1;
    for (let k = 1; k < SIZE / 2; k++) {
      const level = 1 + 20 * Math.sqrt(real[k] * real[k] + imaginary[k] * imaginary[k]);
      levels[k] = level;
      // The strongest of three neighbours before, so that vibrato and beating between bins are no onsets.
      const before = Math.max(previous[k - 1], previous[k], previous[k + 1]);
      if (level > before) product *= level / before;
      if (product > LARGE) {
        rise += Math.log(product);
        product = 1;
      }
    }
    flux[frame] = rise + Math.log(product);
    previous.set(levels);
    if (frame % FRAMES_A_STEP === 0) yield frame / frames;
  }
  return flux;
}

/** Of what sounds within this time after it, silence before a start has less than this, -40 dB. */
const SOON_SECONDS = 0.08;
const SILENT_POWER = 1e-4;

/**
 * Walks back from what a flux peak stands for to the quietest 2 ms from 40 ms before it on, so that a cut
 * keeps its attack; and out of silence to its end, which a frame that reaches over it tells early.
 */
function startOfRise(mono: ArrayLike<number>, sampleRateHz: number, seconds: number): number {
  const step = Math.max(1, Math.round(0.002 * sampleRateHz));
  const powerFrom = (start: number) => {
    let power = 0;
    for (let i = Math.max(0, start); i < start + step && i < mono.length; i++) power += mono[i] * mono[i];
    return power;
  };
  const peak = Math.round(seconds * sampleRateHz);
  let best = peak;
  let least = Infinity;
  const heard = peak + Math.round(strengthLeadSeconds(sampleRateHz) * sampleRateHz);
  for (let start = heard + step; start > Math.max(0, peak - 0.04 * sampleRateHz); start -= step) {
    const power = powerFrom(start - step);
    if (power < 0.7 * least) {
      least = power;
      best = start;
    }
  }
  const soon = Math.min(mono.length, best + Math.round(SOON_SECONDS * sampleRateHz));
  let loudest = 0;
  for (let start = best; start < soon; start += step) loudest = Math.max(loudest, powerFrom(start));
  while (best < soon && powerFrom(best) < SILENT_POWER * loudest) best += step;
  return Math.max(0, best / sampleRateHz);
}
