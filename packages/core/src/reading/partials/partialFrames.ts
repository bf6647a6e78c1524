import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { readEvenly } from '../../dsp/sinc';
import { hann } from '../../dsp/windows';

/** Amplitudes and phases of all partials over time. */
export interface PartialFrames {
  /** Middle of each frame, seconds from the start of the signal. */
  seconds: Float64Array;
  /** Fundamental in the middle of the signal. */
  f0Hz: number;
  /** Periods in a frame. */
  periods: number;
  /** Partials per frame; partial n (from 1) of frame t is at `t × count + n − 1`. */
  count: number;
  amplitudes: Float64Array;
  /** Radians, cosine phase at the middle of the frame. */
  phases: Float64Array;
  /**
   * Mean square of what is halfway between each partial and the next, as noise that reached over the whole
   * way would have.
   */
  between: Float64Array;
}

/**
 * Periods in a frame, if not told otherwise. Under a Hann window of four or more the partials do not leak
 * into one another.
 */
const PERIODS = 4;
const MAX_PARTIALS = 512;
/** Frames that stand no further apart than so many of their lengths are cut from one resampled signal. */
const DENSE = 2;

/**
 * Measures all partials at once. Each frame is resampled so that its periods fill a power of two, which puts
 * every partial exactly on a bin: the same as solving for all of them jointly, at the cost of one FFT.
 *
 * @param f0At fundamental in Hz at a time in seconds
 * @param hopSeconds time between frames
 * @param periods in a frame; an even number, 4 or more
 * @param onsetSeconds frames are placed from the onset of the tone on, wherever a cut begins
 */
export function measurePartials(
  signal: Float64Array,
  sampleRateHz: number,
  f0At: (seconds: number) => number,
  hopSeconds: number,
  periods = PERIODS,
  onsetSeconds = 0,
): PartialFrames {
  const f0Hz = f0At(signal.length / sampleRateHz / 2);
  const count = Math.max(1, Math.min(MAX_PARTIALS, Math.floor((0.47 * sampleRateHz) / f0Hz)));
  const size = periods * 2 ** Math.ceil(Math.log2(Math.max(32, 2 * count + 2)));
  const window = hann(size);
  const spectrum = createFrameSpectrum(size, window);
  const { real, imaginary } = spectrum;
  const first = onsetSeconds % hopSeconds;
  const frames = Math.max(1, Math.floor((signal.length / sampleRateHz - first) / hopSeconds + 0.5));
  const result: PartialFrames = {
    seconds: new Float64Array(frames),
    f0Hz,
    periods,
    count,
    amplitudes: new Float64Array(frames * count),
    phases: new Float64Array(frames * count),
    between: new Float64Array(frames * count),
  };
  const windowPower = window.reduce((sum, w) => sum + w * w, 0);
  // The whole signal resampled serves other frames of it as well.
  const dense = hopSeconds * f0Hz < DENSE * periods;
  for (let frame = 0; frame < frames; frame++) {
    const middle = first + frame * hopSeconds;
    const hz = f0At(middle);
    if (hz === f0Hz && dense) {
      const { points, pointsPerPeriod } = evenlySampled(signal, sampleRateHz, f0Hz, size / periods);
      spectrum.transform(points, Math.round(middle * f0Hz * pointsPerPeriod) - size / 2);
    } else {
      const samplesPerPoint = (periods * sampleRateHz) / hz / size;
      spectrum.transform(
        readEvenly(signal, samplesPerPoint, size, middle * sampleRateHz - (size / 2) * samplesPerPoint),
        0,
      );
    }
    result.seconds[frame] = middle;
    for (let n = 1; n <= count; n++) {
      const bin = periods * n;
      const index = frame * count + n - 1;
      // Several times faster than Math.hypot.
      result.amplitudes[index] = (4 * Math.sqrt(real[bin] ** 2 + imaginary[bin] ** 2)) / size;
      // The middle of the frame is half the transform away from its start: a turn of π per bin.
      result.phases[index] = Math.atan2(imaginary[bin], real[bin]) + Math.PI * bin;
      // A Hann window's line is nothing two bins away; noise is there as everywhere. It stands for the bins
      // of one spacing, twice.
      const gap = bin + periods / 2;
      result.between[index] = (2 * periods * (real[gap] ** 2 + imaginary[gap] ** 2)) / (size * windowPower);
    }
  }
  return result;
}

/** A signal resampled to a whole number of points a period. */
interface Even {
  f0Hz: number;
  pointsPerPeriod: number;
  points: Float64Array;
}

const evenSignals = new WeakMap<Float64Array, Even>();

/**
 * Where the pitch stands still the signal is resampled once for all frames, which overlap many times over.
 * The last of each is kept.
 */
function evenlySampled(signal: Float64Array, sampleRateHz: number, f0Hz: number, pointsPerPeriod: number): Even {
  const kept = evenSignals.get(signal);
  if (kept && kept.f0Hz === f0Hz && kept.pointsPerPeriod === pointsPerPeriod) return kept;
  const samplesPerPoint = sampleRateHz / f0Hz / pointsPerPeriod;
  const points = readEvenly(signal, samplesPerPoint, Math.ceil(signal.length / samplesPerPoint));
  const even = { f0Hz, pointsPerPeriod, points };
  evenSignals.set(signal, even);
  return even;
}

/** Amplitudes of one frame. */
export const frameAmplitudes = ({ amplitudes, count }: PartialFrames, frame: number) =>
  amplitudes.subarray(frame * count, (frame + 1) * count);
