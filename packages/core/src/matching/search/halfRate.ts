import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { hann } from '../../dsp/windows';
import type { Audio } from '../../reading/audio';
import { type Bands, erbBands, sumBands } from '../distance/bands';

/** Of both rates a window is as long, so that bins lie at the same frequencies. */
const WINDOW_SECONDS = 0.093;
const STEP_ERB = 0.5;
const LOWEST_HZ = 45;
/** Bands further under the loudest say nothing of how a rate changes what is heard. */
const FLOOR = 1e-6;
const MOST_GAIN = 10;

/** Gains, of amplitudes, at the middles of bands. */
export interface RateGains {
  bands: Bands;
  gains: Float64Array;
}

/**
 * What half the rate does to a patch: filters of the bilinear transform close towards half of it, and what a
 * curve folds back lies elsewhere. Told by the patch's own prints at both rates, band by band.
 */
export function gainsOfHalfRate(whole: Audio, half: Audio): RateGains {
  const size = 2 ** Math.round(Math.log2(WINDOW_SECONDS * half.sampleRateHz));
  const bands = erbBands(half.sampleRateHz, size, LOWEST_HZ, STEP_ERB);
  const own = bandPowers(half, size, bands);
  const wanted = bandPowers(whole, 2 * size, erbBands(whole.sampleRateHz, 2 * size, LOWEST_HZ, STEP_ERB));
  const floor = FLOOR * Math.max(...own);
  let last = 1;
  const gains = own.map((power, b) => {
    if (power > floor && wanted[b] > floor) {
      last = Math.min(MOST_GAIN, Math.max(1 / MOST_GAIN, Math.sqrt(power / wanted[b])));
    }
    return last;
  });
  return { bands, gains };
}

/** Mean powers over all of a sound and both sides. */
function bandPowers({ channels }: Audio, size: number, bands: Bands): Float64Array {
  const window = hann(size);
  const spectrum = new Float64Array(size / 2);
  const [real, imaginary] = [new Float64Array(size), new Float64Array(size)];
  const fft = fftOfSize(size);
  for (const channel of channels) {
    for (let start = 0; start < channel.length; start += size / 2) {
      imaginary.fill(0);
      for (let i = 0; i < size; i++) real[i] = window[i] * (channel[start + i] || 0);
      fft.forward(real, imaginary);
      for (let k = 0; k < size / 2; k++) spectrum[k] += (real[k] ** 2 + imaginary[k] ** 2) / (size * size);
    }
  }
  const powers = new Float64Array(bands.count);
  sumBands(bands, spectrum, powers, 0);
  return powers;
}

/** A sound of the same rate with these gains, by straight lines between bands, and no phase of their own. */
export function withGains({ channels, sampleRateHz }: Audio, { bands, gains }: RateGains): Audio {
  const size = nextPowerOfTwo(channels[0].length + Math.round(2 * WINDOW_SECONDS * sampleRateHz));
  const curve = curveOf(bands, gains, size, sampleRateHz);
  const fft = fftOfSize(size);
  return {
    channels: channels.map((channel) => {
      const [real, imaginary] = [new Float64Array(size), new Float64Array(size)];
      real.set(channel);
      fft.forward(real, imaginary);
      for (let k = 0; k < size; k++) {
        const gain = curve[Math.min(k, size - k)] / size;
        real[k] *= gain;
        imaginary[k] *= gain;
      }
      fft.inverse(real, imaginary);
      return Float32Array.from(real.subarray(0, channel.length));
    }),
    sampleRateHz,
  };
}

function curveOf({ centresHz, count }: Bands, gains: Float64Array, size: number, sampleRateHz: number): Float64Array {
  let band = 0;
  return Float64Array.from({ length: size / 2 + 1 }, (_, k) => {
    const hz = (k * sampleRateHz) / size;
    while (band < count - 2 && centresHz[band + 1] < hz) band++;
    const along = (hz - centresHz[band]) / (centresHz[band + 1] - centresHz[band]);
    return gains[band] + Math.min(1, Math.max(0, along)) * (gains[band + 1] - gains[band]);
  });
}
