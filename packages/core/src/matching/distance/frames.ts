import { fftOfSize } from '../../dsp/fft';
import { type Bands, erbBands, spread, sumBands } from './bands';

/** One window length: how long, how often, and how fine the bands. */
export interface Scale {
  windowSeconds: number;
  hopSeconds: number;
  stepErb: number;
  lowestHz: number;
  /** Widest cell. Narrow bands hold a partial or two, which beat, and are compared over longer times. */
  cellSeconds: number;
  /** Bands under a ninth of the rate are enough: the signal is read at a quarter of it. */
  isLow: boolean;
}

/** Two signals of one length: what the sides have in common and what they differ by. */
export interface MidSide {
  mid: Float64Array;
  /** Undefined of a mono sound. */
  side: Float64Array | undefined;
  sampleRateHz: number;
}

/** Powers of bands over frames, `frames × bands`; the first frame is centred on the start. */
export interface BandFrames {
  bands: Bands;
  hopSeconds: number;
  frames: number;
  mid: Float64Array;
  side: Float64Array;
  /** Mean power of every bin over all frames, of mid. */
  spectrum: Float64Array;
  binHz: number;
}

/** @param onFrame is given the powers of bins of each frame, of both, before the ear spreads them */
export function frameBands(
  { mid: m, side: s, sampleRateHz }: MidSide,
  seconds: number,
  scale: Scale,
  onFrame?: (powers: Float64Array) => void,
): BandFrames {
  const size = 2 ** Math.round(Math.log2(scale.windowSeconds * sampleRateHz));
  const hop = Math.max(1, Math.round(scale.hopSeconds * sampleRateHz));
  const { window, bands } = toolsFor(sampleRateHz, size, scale);
  const { count } = bands;
  const frames = Math.max(1, Math.ceil((seconds * sampleRateHz) / hop));
  const [mid, side] = [new Float64Array(frames * count), new Float64Array(frames * count)];
  const half = size / 2;
  const [real, imaginary] = [new Float64Array(size), new Float64Array(size)];
  const [first, second] = [new Float64Array(half), new Float64Array(half)];
  const spectrum = new Float64Array(half);
  const fft = fftOfSize(size);
  // Of a mono sound two frames go through one transform, of another one both signals of a frame.
  const step = s ? 1 : 2;
  for (let f = 0; f < frames; f += step) {
    windowed(m, f * hop - half, window, real);
    if (s) windowed(s, f * hop - half, window, imaginary);
    else windowed(m, (f + 1) * hop - half, window, imaginary);
    fft.forward(real, imaginary);
    powersOfPair(real, imaginary, first, second);
    const ofMid = s || f + 1 >= frames ? [first] : [first, second];
    ofMid.forEach((powers, i) => {
      onFrame?.(powers);
      addTo(spectrum, powers);
      sumBands(bands, powers, mid, (f + i) * count);
      spread(bands, mid, (f + i) * count);
    });
    if (!s) continue;
    sumBands(bands, second, side, f * count);
    spread(bands, side, f * count);
  }
  for (let k = 0; k < half; k++) spectrum[k] /= frames;
  return { bands, hopSeconds: hop / sampleRateHz, frames, mid, side, spectrum, binHz: sampleRateHz / size };
}

function addTo(sums: Float64Array, values: Float64Array): void {
  for (let k = 0; k < sums.length; k++) sums[k] += values[k];
}

/** A frame from `start` on, silent where the signal is not. */
function windowed(signal: Float64Array, start: number, window: Float64Array, out: Float64Array): void {
  const from = Math.max(0, -start);
  const to = Math.max(from, Math.min(window.length, signal.length - start));
  out.fill(0, 0, from);
  for (let i = from; i < to; i++) out[i] = window[i] * signal[start + i];
  out.fill(0, to);
}

/** Powers of two real signals that were transformed as one complex one. */
function powersOfPair(real: Float64Array, imaginary: Float64Array, first: Float64Array, second: Float64Array): void {
  const size = real.length;
  first[0] = real[0] * real[0];
  second[0] = imaginary[0] * imaginary[0];
  for (let k = 1; k < first.length; k++) {
    const sumRe = real[k] + real[size - k];
    const sumIm = imaginary[k] + imaginary[size - k];
    const differenceRe = real[k] - real[size - k];
    const differenceIm = imaginary[k] - imaginary[size - k];
    first[k] = (sumRe * sumRe + differenceIm * differenceIm) / 4;
    second[k] = (sumIm * sumIm + differenceRe * differenceRe) / 4;
  }
}

const tools = new Map<string, { window: Float64Array; bands: Bands }>();

/** Window (of Hann, so scaled that a sine of amplitude 1 has power 1) and bands, made once. */
function toolsFor(sampleRateHz: number, size: number, { lowestHz, stepErb }: Scale) {
  const key = `${sampleRateHz} ${size} ${stepErb}`;
  let made = tools.get(key);
  if (!made) {
    const window = Float64Array.from({ length: size }, (_, i) => (2 * (1 - Math.cos((2 * Math.PI * i) / size))) / size);
    tools.set(key, (made = { window, bands: erbBands(sampleRateHz, size, lowestHz, stepErb) }));
  }
  return made;
}
