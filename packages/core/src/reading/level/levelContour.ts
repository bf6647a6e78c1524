/** RMS level over time, each value over one window. */
export interface LevelContour {
  hopSeconds: number;
  windowSeconds: number;
  /** RMS, full scale 1; value i is centred on `i × hopSeconds`. */
  rms: Float64Array;
  /** The same before the cut as far as windows reach into it, the nearest last; before it is silence. */
  before?: Float64Array;
  /** How the power of a low tone is spread over its period, just after the onset. */
  ripple?: Ripple;
  /** What it was measured of, where the tone has a period. */
  waveform?: Waveform;
}

/** Power in equal parts of a period, mean 1; part 0 begins at `originSeconds` plus any number of periods. */
export interface Ripple {
  periodSeconds: number;
  originSeconds: number;
  power: Float64Array;
}

/** The sound that a contour was measured of, and the period of its tone. */
export interface Waveform {
  channels: readonly ArrayLike<number>[];
  sampleRateHz: number;
  periodSeconds: number;
  /** Where its first sample lies by the clock of the contour. */
  fromSeconds: number;
}

/** Shortest window; below it a level says more about the waveform than about the tone. */
const MIN_WINDOW_SECONDS = 0.003;
const HOP_SECONDS = 0.001;

/** RMS in windows of whole periods, so that a low tone's own ripple does not look like movement. */
export function measureLevel(
  channels: readonly ArrayLike<number>[],
  sampleRateHz: number,
  f0Hz: number | undefined,
): LevelContour {
  const period = f0Hz ? 1 / f0Hz : 0.01;
  const windowSeconds = period * Math.max(1, Math.ceil(MIN_WINDOW_SECONDS / period));
  const length = channels[0].length;
  const power = new Float64Array(length + 1);
  for (let i = 0; i < length; i++) {
    let sum = 0;
    for (const channel of channels) sum += channel[i] * channel[i];
    power[i + 1] = power[i] + sum / channels.length;
  }
  // Window edges fall between samples; the running sum is read between its points.
  const powerUpTo = (samples: number) => {
    const x = Math.min(length, Math.max(0, samples));
    const whole = Math.floor(x);
    return whole >= length ? power[length] : power[whole] + (x - whole) * (power[whole + 1] - power[whole]);
  };
  const half = (windowSeconds * sampleRateHz) / 2;
  const rmsAt = (place: number) => {
    const middle = place * HOP_SECONDS * sampleRateHz;
    return Math.sqrt(Math.max(0, powerUpTo(middle + half) - powerUpTo(middle - half)) / (2 * half));
  };
  const rms = Float64Array.from({ length: Math.floor(length / sampleRateHz / HOP_SECONDS) + 1 }, (_, i) => rmsAt(i));
  const reach = Math.floor(windowSeconds / 2 / HOP_SECONDS);
  const before = Float64Array.from({ length: reach }, (_, i) => rmsAt(i - reach));
  const ripple = f0Hz && f0Hz < RIPPLE_BELOW_HZ ? measureRipple(rms, powerUpTo, sampleRateHz, period) : undefined;
  const waveform = f0Hz ? { channels, sampleRateHz, periodSeconds: period, fromSeconds: 0 } : undefined;
  return { hopSeconds: HOP_SECONDS, windowSeconds, rms, before, ripple, waveform };
}

/** Of another sound of the same tone, by windows of its period. */
export const levelOfWaveform = ({ channels, sampleRateHz, periodSeconds }: Waveform) =>
  measureLevel(channels, sampleRateHz, 1 / periodSeconds);

/** Above this a period is shorter than any attack that matters. */
const RIPPLE_BELOW_HZ = 160;
export const RIPPLE_PARTS = 16;
const RIPPLE_PERIODS = 3;

/**
 * A window of one period that is half filled holds half the power only if the waveform is spread evenly over
 * it. A saw's or a sine's is not; taking its shape from the periods after the onset lets an attack much
 * shorter than a period be measured.
 */
function measureRipple(
  rms: Float64Array,
  powerUpTo: (samples: number) => number,
  sampleRateHz: number,
  periodSeconds: number,
): Ripple | undefined {
  const top = rms.reduce((a, b) => Math.max(a, b), 0);
  const onsetSeconds = rms.findIndex((value) => value > 0.1 * top) * HOP_SECONDS;
  const originSeconds = onsetSeconds + 1.5 * periodSeconds;
  if (originSeconds + RIPPLE_PERIODS * periodSeconds > (rms.length - 1) * HOP_SECONDS) return undefined;
  const power = new Float64Array(RIPPLE_PARTS);
  const samplesOf = (periods: number) => (originSeconds + periods * periodSeconds) * sampleRateHz;
  for (let n = 0; n < RIPPLE_PERIODS; n++) {
    const whole = powerUpTo(samplesOf(n + 1)) - powerUpTo(samplesOf(n));
    if (whole <= 0) return undefined;
    for (let part = 0; part < RIPPLE_PARTS; part++) {
      const from = powerUpTo(samplesOf(n + part / RIPPLE_PARTS));
      const to = powerUpTo(samplesOf(n + (part + 1) / RIPPLE_PARTS));
      power[part] += ((to - from) / whole) * (RIPPLE_PARTS / RIPPLE_PERIODS);
    }
  }
  return { periodSeconds, originSeconds, power };
}

const AUDIBLE_SHARE = 0.01;

/** When a level is 40 dB under its highest for good, seconds. */
export function audibleUntil({ rms, hopSeconds }: LevelContour): number {
  const top = rms.reduce((a, b) => Math.max(a, b), 0);
  return (
    Math.max(
      0,
      rms.findLastIndex((value) => value > AUDIBLE_SHARE * top),
    ) * hopSeconds
  );
}
