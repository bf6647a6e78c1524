import { fftOfSize, nextPowerOfTwo } from '../dsp/fft';

export interface YinEstimate {
  f0Hz: number;
  /** 1 − d′ at the chosen lag: 1 for a perfectly periodic frame. */
  clarity: number;
}

export interface Yin {
  /** Samples that one estimate looks at. */
  readonly frameLength: number;
  /** Fundamental of the frame that begins at `start`, or undefined when nothing in range repeats. */
  estimate(signal: Float64Array, start: number): YinEstimate | undefined;
}

/** Depth of a dip of d′ that counts as a period (de Cheveigné & Kawahara use 0.1 to 0.15). */
const THRESHOLD = 0.15;

/**
 * Fundamental by the cumulative mean normalised difference function (YIN, de Cheveigné & Kawahara 2002, steps 2 to 5),
 * its correlations by FFT. Owns its buffers; a call allocates only its result.
 */
export function createYin(sampleRateHz: number, minHz: number, maxHz: number): Yin {
  const maxLag = Math.ceil(sampleRateHz / minHz) + 2;
  const minLag = Math.max(2, Math.floor(sampleRateHz / maxHz));
  const windowLength = maxLag;
  const frameLength = windowLength + maxLag;
  const size = nextPowerOfTwo(frameLength + windowLength);
  const fft = fftOfSize(size);
  const frameRe = new Float64Array(size);
  const frameIm = new Float64Array(size);
  const headRe = new Float64Array(size);
  const headIm = new Float64Array(size);
  const difference = new Float64Array(maxLag);

  /** d(τ) = r(0) + r_τ(0) − 2·r(τ), then its cumulative mean normalisation. Returns false for silence. */
  function fillDifference(signal: Float64Array, start: number): boolean {
    frameRe.fill(0);
    frameIm.fill(0);
    headRe.fill(0);
    headIm.fill(0);
    for (let i = 0; i < frameLength; i++) {
      const x = signal[start + i] ?? 0;
      frameRe[i] = x;
      if (i < windowLength) headRe[i] = x;
    }
    let energy = 0;
    for (let i = 0; i < windowLength; i++) energy += headRe[i] * headRe[i];
    if (energy < 1e-12 * windowLength) return false;
    const headEnergy = energy;
    const first = Float64Array.from(frameRe.subarray(0, frameLength));
    fft.forward(frameRe, frameIm);
    fft.forward(headRe, headIm);
    for (let k = 0; k < size; k++) {
      const re = frameRe[k] * headRe[k] + frameIm[k] * headIm[k];
      frameIm[k] = frameIm[k] * headRe[k] - frameRe[k] * headIm[k];
      frameRe[k] = re;
    }
    fft.inverse(frameRe, frameIm);
    let running = 0;
    difference[0] = 1;
    for (let lag = 1; lag < maxLag; lag++) {
      energy += first[lag + windowLength - 1] ** 2 - first[lag - 1] ** 2;
      const d = Math.max(0, headEnergy + energy - (2 * frameRe[lag]) / size);
      running += d;
      difference[lag] = running > 0 ? (d * lag) / running : 1;
    }
    return true;
  }

  /** The first dip under the threshold, followed to its bottom; without one, the deepest dip. */
  function chooseLag(): number {
    let deepest = -1;
    for (let lag = minLag; lag < maxLag - 1; lag++) {
      const isDip = difference[lag] < difference[lag - 1] && difference[lag] <= difference[lag + 1];
      if (!isDip) continue;
      if (difference[lag] < THRESHOLD) return lag;
      if (deepest < 0 || difference[lag] < difference[deepest]) deepest = lag;
    }
    return deepest;
  }

  return {
    frameLength,
    estimate(signal, start) {
      if (!fillDifference(signal, start)) return undefined;
      const lag = chooseLag();
      if (lag < 0) return undefined;
      const [a, b, c] = [difference[lag - 1], difference[lag], difference[lag + 1]];
      const curvature = a - 2 * b + c;
      const offset = curvature > 0 ? (a - c) / (2 * curvature) : 0;
      return { f0Hz: sampleRateHz / (lag + offset), clarity: Math.max(0, 1 - b) };
    },
  };
}
