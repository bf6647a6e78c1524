import { centsBetween } from '../../dsp/pitch';
import { resample } from '../../dsp/sinc';
import { rmsOf } from '../statistics';
import { createYin } from './yin';

/** Fundamental over time, one value a frame; NaN where nothing repeats. */
export interface PitchTrack {
  /** Middle of each frame, seconds from the start of the signal. */
  seconds: Float64Array;
  f0Hz: Float64Array;
  clarity: Float64Array;
  /** RMS of the frame, full scale 1. */
  rms: Float64Array;
}

export const MIN_F0_HZ = 24;
export const MAX_F0_HZ = 4400;
/** YIN needs no more than this; higher rates are brought down first. */
const TRACK_RATE_HZ = 22050;
const HOP_SECONDS = 0.01;
const MAX_FRAMES = 600;

/** Tracks the fundamental of a signal. Long signals get a longer hop, so that the cost stays bounded. */
export function trackPitch(signal: Float64Array, sampleRateHz: number): PitchTrack {
  const ratio = Math.min(1, TRACK_RATE_HZ / sampleRateHz);
  const reduced = ratio < 1 ? resample(signal, ratio) : signal;
  const rate = sampleRateHz * ratio;
  const yin = createYin(rate, MIN_F0_HZ, Math.min(MAX_F0_HZ, rate / 4));
  const span = Math.max(0, reduced.length - yin.frameLength);
  const hop = Math.max(1, Math.round(Math.max(HOP_SECONDS * rate, span / MAX_FRAMES)));
  const count = Math.floor(span / hop) + 1;
  const track: PitchTrack = {
    seconds: new Float64Array(count),
    f0Hz: new Float64Array(count).fill(NaN),
    clarity: new Float64Array(count),
    rms: new Float64Array(count),
  };
  for (let frame = 0; frame < count; frame++) {
    const start = frame * hop;
    track.seconds[frame] = (start + yin.frameLength / 2) / rate;
    track.rms[frame] = rmsOf(reduced, start, start + yin.frameLength);
    if (straddlesOnset(reduced, start, yin.frameLength)) continue;
    const estimate = yin.estimate(reduced, start);
    if (!estimate) continue;
    track.f0Hz[frame] = estimate.f0Hz;
    track.clarity[frame] = estimate.clarity;
  }
  return track;
}

/** Frames within `rangeCents` of a frequency, that are clear and not more than 40 dB under the loudest. */
export function framesNear(track: PitchTrack, f0Hz: number, rangeCents: number): number[] {
  const loudest = track.rms.reduce((a, b) => Math.max(a, b), 0);
  const frames: number[] = [];
  for (let i = 0; i < track.f0Hz.length; i++) {
    const near = Math.abs(centsBetween(f0Hz, track.f0Hz[i])) <= rangeCents;
    if (near && track.clarity[i] > 0.5 && track.rms[i] > 0.01 * loudest) frames.push(i);
  }
  return frames;
}

/**
 * A frame that is still (nearly) silent at its beginning does not repeat in a way that says anything about
 * pitch.
 */
function straddlesOnset(signal: Float64Array, start: number, length: number): boolean {
  const middle = start + (length >> 1);
  return rmsOf(signal, start, middle) < 0.6 * rmsOf(signal, middle, start + length);
}
