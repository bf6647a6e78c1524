import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import type { Audio } from '../audio';
import type { Reading } from '../schema';
import { correlation } from '../statistics';

const SIZE = 8192;
/** Frames of a long stretch stand further apart, rather than there being more of them. */
const MOST_FRAMES = 200;
const FROM_HZ = 30;
const TO_HZ = 16000;
const BANDS_PER_OCTAVE = 1.5;
/** A band without this share of the whole power says nothing about the tone. */
const LEAST_POWER_DB = -60;
/** Sides this far under the middle are not heard as width. */
const MONO_DB = -24;
const FLOOR_DB = -90;

/**
 * Stereo width of a stretch of sound: the side signal against the middle, by bands, and what both channels
 * have in common.
 */
export function measureWidth(
  { channels, sampleRateHz }: Audio,
  fromSeconds: number,
  toSeconds: number,
): Reading['traits']['width'] {
  const noCause = { cause: null, delaySeconds: null };
  if (channels.length < 2) return { correlation: 1, monoBelowHz: null, ...noCause, bands: [], confidence: 1 };
  const from = Math.max(0, Math.floor(fromSeconds * sampleRateHz));
  const to = Math.min(channels[0].length, Math.ceil(toSeconds * sampleRateHz));
  const [left, right] = channels.map((channel) => channel.subarray(from, to));
  const mid = powerSpectrum(left.map((x, i) => (x + right[i]) / 2));
  const side = powerSpectrum(left.map((x, i) => (x - right[i]) / 2));
  const whole = sum(mid) + sum(side);
  if (whole === 0) return { correlation: null, monoBelowHz: null, ...noCause, bands: [], confidence: 0 };
  const bands: Reading['traits']['width']['bands'] = [];
  const step = 2 ** (1 / BANDS_PER_OCTAVE);
  for (let fromHz = FROM_HZ; fromHz < Math.min(TO_HZ, 0.45 * sampleRateHz); fromHz *= step) {
    const [low, high] = [fromHz, fromHz * step].map((hz) => Math.round((hz * SIZE) / sampleRateHz));
    const middle = sum(mid.subarray(low, Math.max(low + 1, high)));
    const sides = sum(side.subarray(low, Math.max(low + 1, high)));
    if (10 * Math.log10((middle + sides) / whole + 1e-12) < LEAST_POWER_DB) continue;
    const widthDb = Math.max(FLOOR_DB, 10 * Math.log10((sides + 1e-12 * whole) / (middle + 1e-12 * whole)));
    bands.push({ fromHz: Math.round(fromHz), toHz: Math.round(fromHz * step), widthDb: Number(widthDb.toFixed(2)) });
  }
  return {
    correlation: Number(correlation(left, right).toFixed(4)),
    monoBelowHz: monoBelow(bands),
    ...noCause,
    bands,
    confidence: Math.min(1, (to - from) / SIZE),
  };
}

/**
 * The edge between bands without width and the first wide one above them; null when the lowest is wide, or
 * none is.
 */
function monoBelow(bands: Reading['traits']['width']['bands']): number | null {
  const wide = bands.findIndex(({ widthDb }) => widthDb > MONO_DB);
  return wide > 0 ? bands[wide].fromHz : null;
}

/** Power by frequency, the mean of frames under a Hann window. */
function powerSpectrum(signal: Float32Array): Float64Array {
  const spectrum = createFrameSpectrum(SIZE);
  const { real, imaginary } = spectrum;
  const power = new Float64Array(SIZE / 2);
  const hop = Math.max(SIZE / 2, Math.ceil((signal.length - SIZE) / MOST_FRAMES));
  for (let start = 0; start === 0 || start + SIZE <= signal.length; start += hop) {
    spectrum.transform(signal, start);
    for (let k = 1; k < SIZE / 2; k++) power[k] += real[k] ** 2 + imaginary[k] ** 2;
  }
  return power;
}

const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0);
