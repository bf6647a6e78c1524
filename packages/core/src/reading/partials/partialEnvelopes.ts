import { type Phase, turnDown } from '../../dsp/harmonics';
import { hann } from '../../dsp/windows';

/** The complex amplitude of every partial over time, turned down by the pitch that was followed. */
export interface PartialEnvelopes {
  f0Hz: number;
  /** Middle of each value. */
  seconds: Float64Array;
  hopSeconds: number;
  /** Length of the Hann window that each value looks through. */
  windowSeconds: number;
  /**
   * One pair of lines a partial, from the fundamental on; a steady partial of amplitude a has the modulus a.
   */
  partials: { re: Float64Array; im: Float64Array }[];
}

interface EnvelopeOptions {
  /** As many as there are under 0.45 of the sampling rate, but no more than this. */
  mostPartials: number;
  /**
   * The pitch that is followed, Hz at a time in seconds; partials stand still where it is right. If missing,
   * the fundamental.
   */
  f0At?: (seconds: number) => number;
  /** If missing, two periods and at least 4 ms; the other partials fall on the nulls of whole periods. */
  windowSeconds?: number;
  /** If missing, a quarter of the window. */
  hopSeconds?: number;
}

const PERIODS = 2;
const MIN_WINDOW_SECONDS = 0.004;
const TOP_SHARE = 0.45;

/**
 * Follows partials by heterodyning: the signal times the conjugate of each partial's own phase, under a short
 * Hann window. What a partial does within half a spacing to either side stays in its line.
 */
export function measureEnvelopes(
  signal: Float64Array,
  sampleRateHz: number,
  f0Hz: number,
  { mostPartials, f0At = () => f0Hz, windowSeconds = wholePeriods(f0Hz), hopSeconds }: EnvelopeOptions,
): PartialEnvelopes {
  const length = Math.max(8, Math.round(windowSeconds * sampleRateHz));
  const window = hann(length);
  const gain = 2 / window.reduce((sum, w) => sum + w, 0);
  const hop = Math.max(1, hopSeconds ? Math.round(hopSeconds * sampleRateHz) : Math.floor(length / 4));
  const frames = Math.max(0, Math.floor((signal.length - length) / hop) + 1);
  const count = Math.max(1, Math.min(mostPartials, Math.floor((TOP_SHARE * sampleRateHz) / f0Hz)));
  const phase = phaseOf(signal.length, sampleRateHz, f0At);
  const partials = Array.from({ length: count }, () => ({
    re: new Float64Array(frames),
    im: new Float64Array(frames),
  }));
  const sums = new Float64Array(2 * count);
  for (let frame = 0; frame < frames; frame++) {
    turnDown(signal, frame * hop, window, phase, frame * hop, sums);
    for (let n = 0; n < count; n++) {
      partials[n].re[frame] = gain * sums[2 * n];
      partials[n].im[frame] = gain * sums[2 * n + 1];
    }
  }
  const seconds = Float64Array.from({ length: frames }, (_, frame) => (frame * hop + length / 2) / sampleRateHz);
  return { f0Hz, seconds, hopSeconds: hop / sampleRateHz, windowSeconds: length / sampleRateHz, partials };
}

const wholePeriods = (f0Hz: number) => Math.max(PERIODS, Math.ceil(MIN_WINDOW_SECONDS * f0Hz)) / f0Hz;

function phaseOf(length: number, sampleRateHz: number, f0At: (seconds: number) => number): Phase {
  const cosines = new Float64Array(length);
  const sines = new Float64Array(length);
  let cycles = 0;
  for (let i = 0; i < length; i++) {
    cosines[i] = Math.cos(2 * Math.PI * cycles);
    sines[i] = Math.sin(2 * Math.PI * cycles);
    cycles += f0At(i / sampleRateHz) / sampleRateHz;
    cycles -= Math.floor(cycles);
  }
  return { cosines, sines };
}

/** Levels of a partial over time, as power. */
export const powersOf = ({ re, im }: PartialEnvelopes['partials'][number]) => re.map((x, i) => x * x + im[i] * im[i]);
