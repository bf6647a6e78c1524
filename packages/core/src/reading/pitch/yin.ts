import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';

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
 * Fundamental by the cumulative mean normalised difference function (YIN, de Cheveigné & Kawahara 2002, steps
 * 2 to 5), its correlations by FFT. Owns its buffers; a call allocates only its result.
 */
export function createYin(sampleRateHz: number, minHz: number, maxHz: number): Yin {
  const maxLag = Math.ceil(sampleRateHz / minHz) + 2;
  const minLag = Math.max(2, Math.floor(sampleRateHz / maxHz));
  const windowLength = maxLag;
  const frameLength = windowLength + maxLag;
  // What goes round comes back behind the longest lag.
  const size = nextPowerOfTwo(frameLength);
  const fft = fftOfSize(size);
  const frameRe = new Float64Array(size);
  const frameIm = new Float64Array(size);
  const productRe = new Float64Array(size);
  const productIm = new Float64Array(size);
  const squares = new Float64Array(frameLength);
  const difference = new Float64Array(maxLag);

  /** d(τ) = r(0) + r_τ(0) − 2·r(τ), then its cumulative mean normalisation. Returns false for silence. */
  function fillDifference(signal: Float64Array, start: number): boolean {
    frameRe.fill(0, frameLength);
    frameIm.fill(0, windowLength);
    const known = Math.max(0, Math.min(frameLength, signal.length - start));
    for (let i = 0; i < known; i++) frameRe[i] = signal[start + i];
    frameRe.fill(0, known, frameLength);
    // The frame is the real part and its head the imaginary one: both are transformed at once.
    for (let i = 0; i < windowLength; i++) frameIm[i] = frameRe[i];
    for (let i = 0; i < frameLength; i++) squares[i] = frameRe[i] * frameRe[i];
    let energy = 0;
    for (let i = 0; i < windowLength; i++) energy += squares[i];
    if (energy < 1e-12 * windowLength) return false;
    const headEnergy = energy;
    fft.forward(frameRe, frameIm);
    // The product is that of real signals: its upper half follows from the lower.
    for (let k = 0; k <= size / 2; k++) {
      const j = (size - k) & (size - 1);
      const re = (frameRe[k] + frameRe[j]) / 2;
      const im = (frameIm[k] - frameIm[j]) / 2;
      const headRe = (frameIm[k] + frameIm[j]) / 2;
      const headIm = (frameRe[j] - frameRe[k]) / 2;
      productRe[k] = re * headRe + im * headIm;
      productIm[k] = im * headRe - re * headIm;
      productRe[j] = productRe[k];
      productIm[j] = -productIm[k];
    }
    fft.inverse(productRe, productIm);
    let running = 0;
    difference[0] = 1;
    for (let lag = 1; lag < maxLag; lag++) {
      energy += squares[lag + windowLength - 1] - squares[lag - 1];
      const d = Math.max(0, headEnergy + energy - (2 * productRe[lag]) / size);
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
