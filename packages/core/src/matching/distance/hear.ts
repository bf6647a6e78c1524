import { DECIMATOR_LATENCY, OVERSAMPLING, createDecimator } from '../../dsp/halfband';
import { type Audio, durationOf } from '../../reading/audio';
import { type Cells, cellsAround } from './cells';
import { createLoudnessMeter } from './evenness';
import { type BandFrames, type MidSide, type Scale, frameBands } from './frames';

/**
 * Three window lengths: attacks in broad bands, spectra in bands of the ear, and partials, which lie apart
 * only below, in finer ones.
 */
const SHORT: Scale = {
  windowSeconds: 0.0107,
  hopSeconds: 0.0067,
  stepErb: 3,
  lowestHz: 120,
  cellSeconds: 0.1,
  isLow: false,
};
const MIDDLE: Scale = {
  windowSeconds: 0.0427,
  hopSeconds: 0.02,
  stepErb: 1,
  lowestHz: 45,
  cellSeconds: 0.2,
  isLow: false,
};
const LONG: Scale = {
  windowSeconds: 0.1707,
  hopSeconds: 0.064,
  stepErb: 0.5,
  lowestHz: 25,
  cellSeconds: 0.5,
  isLow: true,
};
const SCALES = [SHORT, MIDDLE, LONG];

/** What one window length tells, and the spans of time in which it is compared. */
export interface HeardScale extends BandFrames {
  cells: Cells;
}

/** A sound as it is compared. */
export interface Heard {
  seconds: number;
  events: readonly number[];
  scales: HeardScale[];
  /** What its powers were multiplied by. */
  gain: number;
}

/** What sounds are lifted to: 60 dB under its loudest then lies at about the threshold in quiet. */
const EVEN_POWER = 10 ** ((-23 + 0.691) / 10);

/**
 * Hears a sound: at even loudness (BS.1770), in three window lengths, on auditory bands.
 *
 * @param seconds how long the sound is taken to be; silence follows where it ends before
 * @param events where notes begin and end, s
 */
export function hear(audio: Audio, seconds = durationOf(audio), events: readonly number[] = []): Heard {
  const whole = midSide(audio);
  const low = quarterRate(whole);
  const meter = createLoudnessMeter(whole.sampleRateHz, binsOf(MIDDLE, whole.sampleRateHz), MIDDLE.hopSeconds);
  const scales = SCALES.map((scale) => {
    const frames = frameBands(scale.isLow ? low : whole, seconds, scale, scale === MIDDLE ? meter.addFrame : undefined);
    const least = Math.max(scale.windowSeconds / 2, scale.hopSeconds);
    return { ...frames, cells: cellsAround(events, seconds, least, scale.cellSeconds) };
  });
  const power = meter.power();
  const heard = { seconds, events, scales, gain: 1 };
  scaleHeard(heard, power > 0 ? EVEN_POWER / power : 0);
  return heard;
}

/** Makes it so many times as loud, in power. */
export function scaleHeard(heard: Heard, gain: number): void {
  heard.gain *= gain;
  for (const { mid, side, spectrum } of heard.scales)
    for (const powers of [mid, side, spectrum]) for (let i = 0; i < powers.length; i++) powers[i] *= gain;
}

const binsOf = ({ windowSeconds }: Scale, sampleRateHz: number) =>
  2 ** (Math.round(Math.log2(windowSeconds * sampleRateHz)) - 1);

/** A mono sound is the same on both sides. What is not a number counts as silence. */
function midSide({ channels: [left, right], sampleRateHz }: Audio): MidSide {
  const mid = new Float64Array(left.length);
  if (!right) {
    for (let i = 0; i < left.length; i++) mid[i] = left[i] || 0;
    return { mid, side: undefined, sampleRateHz };
  }
  const side = new Float64Array(left.length);
  let differs = false;
  for (let i = 0; i < left.length; i++) {
    const l = left[i] || 0;
    const r = right[i] || 0;
    mid[i] = (l + r) / 2;
    side[i] = (l - r) / 2;
    if (l !== r) differs = true;
  }
  return { mid, side: differs ? side : undefined, sampleRateHz };
}

const BLOCK = 128;

function quarterRate({ mid, side, sampleRateHz }: MidSide): MidSide {
  const down = (signal: Float64Array) => {
    const count = Math.ceil(signal.length / OVERSAMPLING) + DECIMATOR_LATENCY;
    const padded = new Float64Array(OVERSAMPLING * (count + BLOCK));
    padded.set(signal);
    const out = new Float64Array(count);
    const decimator = createDecimator();
    for (let from = 0; from < count; from += BLOCK) decimator.add(padded, out, from, Math.min(count, from + BLOCK));
    return out.subarray(DECIMATOR_LATENCY);
  };
  return { mid: down(mid), side: side && down(side), sampleRateHz: sampleRateHz / OVERSAMPLING };
}
