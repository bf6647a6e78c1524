import { nextPowerOfTwo } from '../../dsp/fft';
import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { hann } from '../../dsp/windows';

export interface BrightnessContour {
  hopSeconds: number;
  /** Power-weighted mean frequency of each frame, Hz; NaN where there is (almost) nothing. */
  centroidHz: Float64Array;
  /** Mean over time weighted by power. */
  meanHz: number;
}

const MIN_HOP_SECONDS = 0.01;
/** Of a long sound they follow one another at a longer distance, rather than there being more of them. */
const MOST_FRAMES = 600;
/** Windows of low tones are long: they follow one another at this share of their length. */
const HOP_SHARE = 0.125;
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
  const window = new Float64Array(size);
  window.set(hann(length));
  const spectrum = createFrameSpectrum(size, window);
  const { real, imaginary } = spectrum;
  const durationSeconds = signal.length / sampleRateHz;
  const hopSeconds = Math.max(MIN_HOP_SECONDS, (HOP_SHARE * length) / sampleRateHz, durationSeconds / MOST_FRAMES);
  const frames = Math.max(1, Math.floor(durationSeconds / hopSeconds) + 1);
  const centroidHz = new Float64Array(frames).fill(NaN);
  const powers = new Float64Array(frames);
  for (let frame = 0; frame < frames; frame++) {
    spectrum.transform(signal, Math.round(frame * hopSeconds * sampleRateHz) - (length >> 1));
    let moment = 0;
    let sum = 0;
    for (let k = 1; k < size / 2; k++) {
      const power = real[k] * real[k] + imaginary[k] * imaginary[k];
      sum += power;
      moment += power * k;
    }
    powers[frame] = sum;
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
  return { hopSeconds, centroidHz, meanHz: total > 0 ? moment / total : NaN };
}
