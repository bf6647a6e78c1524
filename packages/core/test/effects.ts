/** Effects and movements by formula, for tests: nothing here uses the engine. */
import { fftOfSize, nextPowerOfTwo } from '../src/dsp/fft';
import { addTwo } from './partialSums';
import { createRandom } from './signals';

const RATE_HZ = 44100;

export interface Voices {
  f0Hz: number;
  seconds: number;
  /** Distance of each voice from the fundamental. */
  cents?: readonly number[];
  seed?: number;
  sampleRateHz?: number;
  /** Amplitude of partial n at a time in seconds; a saw if missing. */
  amplitude?: (n: number, seconds: number) => number;
  /** Phase in cycles that is added over time, for vibrato and slides. */
  cycles?: (seconds: number) => number;
  mostPartials?: number;
}

/** Voices of partials with random phases, each with a peak of about 0.2. */
export function voices({
  f0Hz,
  seconds,
  cents = [0],
  seed = 1,
  sampleRateHz = RATE_HZ,
  amplitude = (n) => 1 / n,
  cycles,
  mostPartials = 40,
}: Voices): Float64Array {
  const random = createRandom(seed);
  const out = new Float64Array(Math.round(seconds * sampleRateHz));
  for (const cent of cents) {
    const f = f0Hz * 2 ** (cent / 1200);
    const start = random();
    const count = Math.min(mostPartials, Math.ceil((0.45 * sampleRateHz) / f) - 1);
    const amplitudes = new Float64Array(count + 1);
    const angleAt = (i: number) => {
      const at = i / sampleRateHz;
      return 2 * Math.PI * (f * at + start + (cycles ? cycles(at) : 0));
    };
    for (let i = 0; i < out.length; i += 2) {
      // Amplitudes move slowly: every 32 samples is often enough.
      if (i % 32 === 0) for (let n = 1; n <= count; n++) amplitudes[n] = 0.2 * amplitude(n, i / sampleRateHz);
      addTwo(out, i, amplitudes, angleAt(i), angleAt(i + 1));
    }
  }
  return out;
}

/** Gain from 0 dB down to −depth, round. */
export const tremolo =
  (rateHz: number, depthDb: number) =>
  (seconds: number): number =>
    10 ** ((depthDb * (0.5 * Math.sin(2 * Math.PI * rateHz * seconds) - 0.5)) / 20);

/** Gain that falls by depth at every beat and comes back in a straight line of dB over a share of it. */
export const ducking =
  (rateHz: number, depthDb: number, share = 0.7) =>
  (seconds: number): number => {
    const turns = seconds * rateHz;
    return 10 ** ((-depthDb * Math.max(0, 1 - (turns - Math.floor(turns)) / share)) / 20);
  };

export const times = (signal: Float64Array, gain: (seconds: number) => number, sampleRateHz = RATE_HZ) =>
  signal.map((x, i) => x * gain(i / sampleRateHz));

/** The signal and a copy of it that is late by a time in seconds. */
export function withDelay(
  signal: Float64Array,
  delayAt: (seconds: number) => number,
  wet: number,
  sampleRateHz = RATE_HZ,
): Float64Array {
  return signal.map((x, i) => {
    const at = i - delayAt(i / sampleRateHz) * sampleRateHz;
    const whole = Math.floor(at);
    if (whole < 1 || whole + 2 >= signal.length) return x;
    // Cubic between four points (Catmull & Rom).
    const t = at - whole;
    const [a, b, c, d] = [signal[whole - 1], signal[whole], signal[whole + 1], signal[whole + 2]];
    const late = b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
    return x + wet * late;
  });
}

/** The signal and itself through first-order all-passes whose corner moves. */
export function phaser(
  signal: Float64Array,
  cornerAt: (seconds: number) => number,
  stages: number,
  sampleRateHz = RATE_HZ,
): Float64Array {
  const before = new Float64Array(stages);
  const states = new Float64Array(stages);
  return signal.map((x, i) => {
    const w = Math.tan((Math.PI * cornerAt(i / sampleRateHz)) / sampleRateHz);
    const c = (w - 1) / (w + 1);
    let y = x;
    for (let s = 0; s < stages; s++) {
      const out = c * y + before[s] - c * states[s];
      before[s] = y;
      states[s] = out;
      y = out;
    }
    return 0.5 * (x + y);
  });
}

/** Amplitude of partial n of a saw behind a Butterworth low-pass that moves. */
export const lowpassed =
  (f0Hz: number, cutoffAt: (seconds: number) => number, slopeDbPerOctave: 12 | 24) =>
  (n: number, seconds: number): number =>
    1 / n / Math.sqrt(1 + ((n * f0Hz) / cutoffAt(seconds)) ** (slopeDbPerOctave / 3));

/** A straight movement between two values on a log scale, round at a rate. */
export const sweeping =
  (lowHz: number, highHz: number, rateHz: number) =>
  (seconds: number): number =>
    lowHz * (highHz / lowHz) ** (0.5 + 0.5 * Math.sin(2 * Math.PI * rateHz * seconds));

/** Repeats of a signal, each later by a time and less by a factor. */
export function withEchoes(signal: Float64Array, delaySeconds: number, wet: number, feedback: number): Float64Array {
  const delay = Math.round(delaySeconds * RATE_HZ);
  const line = new Float64Array(signal.length);
  for (let i = delay; i < signal.length; i++) line[i] = signal[i - delay] + feedback * line[i - delay];
  return signal.map((x, i) => x + wet * line[i]);
}

/**
 * A room: noise that dies away, behind a signal, at a level under it. Convolved by blocks of the Fourier
 * transform.
 */
export function withRoom(
  signal: Float64Array,
  {
    rt60Seconds,
    preDelaySeconds = 0,
    wetDb,
    seed = 5,
  }: { rt60Seconds: number; preDelaySeconds?: number; wetDb: number; seed?: number },
): Float64Array {
  const random = createRandom(seed);
  const start = Math.round(preDelaySeconds * RATE_HZ);
  const length = Math.min(signal.length, start + Math.round(1.2 * rt60Seconds * RATE_HZ));
  const response = Float64Array.from({ length }, (_, i) =>
    i < start ? 0 : (2 * random() - 1) * 10 ** ((-3 * (i - start)) / RATE_HZ / rt60Seconds),
  );
  const size = nextPowerOfTwo(signal.length + length);
  const fft = fftOfSize(size);
  const [aRe, aIm, bRe, bIm] = [0, 1, 2, 3].map(() => new Float64Array(size));
  aRe.set(signal);
  bRe.set(response);
  fft.forward(aRe, aIm);
  fft.forward(bRe, bIm);
  for (let k = 0; k < size; k++) {
    const re = aRe[k] * bRe[k] - aIm[k] * bIm[k];
    aIm[k] = aRe[k] * bIm[k] + aIm[k] * bRe[k];
    aRe[k] = re;
  }
  fft.inverse(aRe, aIm);
  const power = (x: Float64Array) => x.reduce((sum, v) => sum + v * v, 0);
  const wet = aRe.subarray(0, signal.length);
  const gain = Math.sqrt(power(signal) / power(wet)) * 10 ** (wetDb / 20);
  return signal.map((x, i) => x + gain * wet[i]);
}
