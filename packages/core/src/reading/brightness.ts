import { fftOfSize, nextPowerOfTwo } from '../dsp/fft';
import { hann } from '../dsp/windows';

export interface BrightnessContour {
  hopSeconds: number;
  /** Power-weighted mean frequency of each frame, Hz; NaN where there is (almost) nothing. */
  centroidHz: Float64Array;
  /** Mean over time weighted by power. */
  meanHz: number;
}

const HOP_SECONDS = 0.01;
const MIN_WINDOW_SECONDS = 0.03;
const AUDIBLE_DB = -50;

/** Spectral centroid over time, in windows of at least four periods. */
export function measureBrightness(
  signal: Float64Array,
  sampleRateHz: number,
  f0Hz: number | undefined,
): BrightnessContour {
  const length = Math.round(Math.max(MIN_WINDOW_SECONDS, f0Hz ? 4 / f0Hz : 0) * sampleRateHz);
  const size = nextPowerOfTwo(length);
  const window = hann(length);
  const frames = Math.max(1, Math.floor(signal.length / sampleRateHz / HOP_SECONDS) + 1);
  const centroidHz = new Float64Array(frames).fill(NaN);
  const powers = new Float64Array(frames);
  const real = new Float64Array(size);
  const imaginary = new Float64Array(size);
  for (let frame = 0; frame < frames; frame++) {
    const start = Math.round(frame * HOP_SECONDS * sampleRateHz) - (length >> 1);
    real.fill(0);
    imaginary.fill(0);
    for (let i = Math.max(0, -start); i < length && start + i < signal.length; i++)
      real[i] = signal[start + i] * window[i];
    fftOfSize(size).forward(real, imaginary);
    let moment = 0;
    for (let k = 1; k < size / 2; k++) {
      const power = real[k] * real[k] + imaginary[k] * imaginary[k];
      powers[frame] += power;
      moment += power * k;
    }
    if (powers[frame] > 0) centroidHz[frame] = ((moment / powers[frame]) * sampleRateHz) / size;
  }
  const loudest = powers.reduce((a, b) => Math.max(a, b), 0);
  let moment = 0;
  let total = 0;
  for (let frame = 0; frame < frames; frame++) {
    if (!(powers[frame] > loudest * 10 ** (AUDIBLE_DB / 10))) {
      centroidHz[frame] = NaN;
      continue;
    }
    moment += powers[frame] * centroidHz[frame];
    total += powers[frame];
  }
  return { hopSeconds: HOP_SECONDS, centroidHz, meanHz: total > 0 ? moment / total : NaN };
}
