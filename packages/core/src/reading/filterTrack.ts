import { decibelsFromGain } from '../dsp/decibels';
import { type PartialFrames, frameAmplitudes } from './partialFrames';

/** The low-pass that would explain how the partials of a note change. */
export interface FilterTrack {
  slopeDbPerOctave: 12 | 24;
  seconds: Float64Array;
  /** Cutoff at each frame; NaN where the frame is too quiet to tell. */
  cutoffHz: Float64Array;
  /** RMS of what the filter leaves unexplained, dB. */
  errorDb: number;
}

const STEPS_PER_OCTAVE = 12;
const AUDIBLE_DB = -60;
const MAX_COMPARED = 80;

/**
 * Explains every frame as the same source under a low-pass whose cutoff moves. The source is taken to fall like a saw's or a
 * square's (6 dB per octave); missing even partials carry no weight. Of the two slopes the one that leaves less wins.
 */
export function trackFilter(frames: PartialFrames, f0Hz: number, sampleRateHz: number): FilterTrack {
  const candidates = ([12, 24] as const).map((slope) => fitSlope(frames, f0Hz, sampleRateHz, slope));
  return candidates[0].errorDb < candidates[1].errorDb ? candidates[0] : candidates[1];
}

/** Attenuation of a low-pass without resonance, dB ≥ 0, at `ratio` times its cutoff (Butterworth power response). */
export function lowpassAttenuationDb(slopeDbPerOctave: 12 | 24, ratio: number): number {
  return 10 * Math.log10(1 + ratio ** (slopeDbPerOctave / 3));
}

function fitSlope(frames: PartialFrames, f0Hz: number, sampleRateHz: number, slope: 12 | 24): FilterTrack {
  const count = Math.min(frames.count, MAX_COMPARED);
  const topHz = Math.min(20000, 0.47 * sampleRateHz);
  const cutoffs: number[] = [];
  for (let hz = f0Hz * 0.5; hz <= topHz; hz *= 2 ** (1 / STEPS_PER_OCTAVE)) cutoffs.push(hz);
  const attenuation = cutoffs.map((cutoff) =>
    Float64Array.from({ length: count }, (_, i) => lowpassAttenuationDb(slope, ((i + 1) * f0Hz) / cutoff)),
  );
  const loudest = strongest(frames.amplitudes);
  const cutoffHz = new Float64Array(frames.seconds.length).fill(NaN);
  let errorSum = 0;
  let errorCount = 0;
  const levels = new Float64Array(count);
  const weights = new Float64Array(count);
  for (let t = 0; t < frames.seconds.length; t++) {
    const amplitudes = frameAmplitudes(frames, t);
    const top = strongest(amplitudes);
    if (top < 0.01 * loudest) continue;
    for (let i = 0; i < count; i++) {
      const level = decibelsFromGain(amplitudes[i] / top);
      // Saw-like source taken off: what is left should look like the filter.
      levels[i] = level + 20 * Math.log10(i + 1);
      weights[i] = level > AUDIBLE_DB ? 1 / (i + 1) ** 0.5 : 0;
    }
    let best = Infinity;
    let bestIndex = -1;
    const errors = attenuation.map((curve, index) => {
      const error = residual(levels, weights, curve);
      if (error < best) {
        best = error;
        bestIndex = index;
      }
      return error;
    });
    cutoffHz[t] = cutoffs[bestIndex] * 2 ** (parabolicOffset(errors, bestIndex) / STEPS_PER_OCTAVE);
    errorSum += best;
    errorCount++;
  }
  return {
    slopeDbPerOctave: slope,
    seconds: frames.seconds,
    cutoffHz,
    errorDb: errorCount > 0 ? Math.sqrt(errorSum / errorCount) : Infinity,
  };
}

/** Weighted mean square of levels + attenuation around their own mean (the frame's gain is free). */
function residual(levels: Float64Array, weights: Float64Array, attenuation: Float64Array): number {
  let w = 0;
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < levels.length; i++) {
    const x = levels[i] + attenuation[i];
    w += weights[i];
    sum += weights[i] * x;
    squares += weights[i] * x * x;
  }
  return w > 0 ? Math.max(0, squares / w - (sum / w) ** 2) : Infinity;
}

function parabolicOffset(values: number[], index: number): number {
  if (index <= 0 || index >= values.length - 1) return 0;
  const [a, b, c] = [values[index - 1], values[index], values[index + 1]];
  const curvature = a - 2 * b + c;
  return curvature > 0 ? (a - c) / (2 * curvature) : 0;
}

export function strongest(values: Float64Array): number {
  let top = 0;
  for (let i = 0; i < values.length; i++) if (values[i] > top) top = values[i];
  return top;
}
