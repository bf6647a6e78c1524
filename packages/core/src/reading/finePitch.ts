import { hann } from '../dsp/windows';
import type { PitchTrack } from './pitchTrack';

/** Deviation of the pitch from a fundamental over time, from the phases of its partials. */
export interface FinePitch {
  seconds: Float64Array;
  /** NaN where the partials say nothing, or not the same. */
  cents: Float64Array;
  windowSeconds: number;
}

const HOP_SECONDS = 0.005;
const PERIODS = 3;
const MIN_WINDOW_SECONDS = 0.012;
const PARTIALS = 6;
/** Frames this far under the loudest say nothing. */
const LEAST_SHARE = 0.01;

/**
 * Pitch over time, finer than frames that hold several periods of the lowest tone there is: the signal is turned down by
 * the coarse track's own phase, what is left of each partial's phase moves slowly, and its steps are the track's error. Partials are
 * weighted by their power times their number squared (Rife & Boorstyn 1974).
 */
export function trackFinePitch(signal: Float64Array, sampleRateHz: number, track: PitchTrack, f0Hz: number): FinePitch {
  const { hzAt, cosines, sines } = referencePhase(signal.length, sampleRateHz, track, f0Hz);
  const window = hann(Math.round(Math.max(MIN_WINDOW_SECONDS, PERIODS / f0Hz) * sampleRateHz));
  const hop = Math.max(1, Math.round(HOP_SECONDS * sampleRateHz));
  const frames = Math.max(0, Math.floor((signal.length - window.length) / hop) + 1);
  const partials = Math.max(1, Math.min(PARTIALS, Math.floor((0.45 * sampleRateHz) / f0Hz)));
  const re = Array.from({ length: partials }, () => new Float64Array(frames));
  const im = Array.from({ length: partials }, () => new Float64Array(frames));
  const power = new Float64Array(frames);
  const sums = new Float64Array(2 * partials);
  for (let frame = 0; frame < frames; frame++) {
    sums.fill(0);
    for (let i = 0; i < window.length; i++) {
      const at = frame * hop + i;
      const x = signal[at] * window[i];
      const c1 = cosines[at];
      const s1 = sines[at];
      // Multiples of the angle by turning on.
      for (let n = 0, c = c1, s = s1; n < partials; n++) {
        sums[2 * n] += x * c;
        sums[2 * n + 1] -= x * s;
        const turned = c * c1 - s * s1;
        s = s * c1 + c * s1;
        c = turned;
      }
    }
    for (let n = 0; n < partials; n++) {
      re[n][frame] = sums[2 * n];
      im[n][frame] = sums[2 * n + 1];
      power[frame] += sums[2 * n] ** 2 + sums[2 * n + 1] ** 2;
    }
  }
  const loudest = power.reduce((a, b) => Math.max(a, b), 0);
  const seconds = Float64Array.from({ length: Math.max(0, frames - 1) }, (_, frame) => {
    return ((frame + 0.5) * hop + window.length / 2) / sampleRateHz;
  });
  const cents = seconds.map((at, frame) => {
    if (power[frame] < LEAST_SHARE * loudest || power[frame + 1] < LEAST_SHARE * loudest) return NaN;
    let offset = 0;
    let weight = 0;
    for (let n = 0; n < partials; n++) {
      const a = re[n][frame] * re[n][frame + 1] + im[n][frame] * im[n][frame + 1];
      const b = re[n][frame] * im[n][frame + 1] - im[n][frame] * re[n][frame + 1];
      const size = Math.hypot(a, b);
      offset += (size * (n + 1) * Math.atan2(b, a) * sampleRateHz) / (2 * Math.PI * hop);
      weight += size * (n + 1) ** 2;
    }
    const hz = hzAt(at) + offset / weight;
    return hz > 0 ? 1200 * Math.log2(hz / f0Hz) : NaN;
  });
  return { seconds, cents, windowSeconds: window.length / sampleRateHz };
}

/** Cosine and sine of the phase of a tone that follows the clear frames of a track near the fundamental, and the fundamental elsewhere. */
function referencePhase(length: number, sampleRateHz: number, track: PitchTrack, f0Hz: number) {
  const near = [...track.f0Hz.keys()].filter(
    (i) => track.clarity[i] > 0.5 && Math.abs(Math.log2(track.f0Hz[i] / f0Hz)) < 1,
  );
  let k = 0;
  const hzAt = (seconds: number) => {
    if (near.length === 0) return f0Hz;
    if (k > 0 && track.seconds[near[k - 1]] > seconds) k = 0;
    while (k < near.length && track.seconds[near[k]] <= seconds) k++;
    if (k === 0) return track.f0Hz[near[0]];
    if (k === near.length) return track.f0Hz[near[k - 1]];
    const [before, after] = [near[k - 1], near[k]];
    const along = (seconds - track.seconds[before]) / (track.seconds[after] - track.seconds[before]);
    return track.f0Hz[before] + along * (track.f0Hz[after] - track.f0Hz[before]);
  };
  const cosines = new Float64Array(length);
  const sines = new Float64Array(length);
  let cycles = 0;
  for (let i = 0; i < length; i++) {
    cosines[i] = Math.cos(2 * Math.PI * cycles);
    sines[i] = Math.sin(2 * Math.PI * cycles);
    cycles += hzAt(i / sampleRateHz) / sampleRateHz;
    cycles -= Math.floor(cycles);
  }
  return { cosines, sines, hzAt };
}
