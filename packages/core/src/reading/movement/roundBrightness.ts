import { filterBiquad, lowpassBiquad } from '../../dsp/biquad';
import { hann } from '../../dsp/windows';
import { type PeriodicMovement, findPeriodicMovement, sineOf } from './periodicMovement';

/** Brightness that goes round, whatever moves it. */
export interface RoundBrightness extends PeriodicMovement {
  /** Where its sine stands at the start of the signal, cycles. */
  startCycles: number;
}

/** A note whose brightness is followed. */
export interface BrightNote {
  mono: Float64Array;
  sampleRateHz: number;
  f0Hz: number;
}

const STEP_SECONDS = 0.01;
/** Over this there is more hiss than tone. */
const HIGHEST_HZ = 5000;
const PERIODS = 2;
const MIN_WINDOW_SECONDS = 0.01;
/** Depth in octaves of a cutoff to either side; less is not heard. */
const SEARCH = { minHz: 0.15, maxHz: 16, leastDepth: 0.1 };
/** Two or three turns can look like a movement by chance. */
const LEAST_TURNS = 3.2;
/** Where it does other things as well, as where voices beat, something else moves it. */
const LEAST_EXPLAINED = 0.95;
/** Windows so far under the loudest say nothing. */
const LEAST_SHARE = 1e-5;

/**
 * How the brightness goes round, where that is nearly all that it does: the power of the signal's differences
 * against its own, in octaves. That is the mean square of its frequencies; of a saw behind a low-pass all
 * partials have the same share of it up to the cutoff, so it goes as far as that does. Behind a curve it is
 * as round as before it, but less deep (our own measure).
 */
export function findRoundBrightness(
  { mono, sampleRateHz, f0Hz }: BrightNote,
  fromSeconds: number,
  toSeconds: number,
): RoundBrightness | undefined {
  const signal = filterBiquad(mono, lowpassBiquad(HIGHEST_HZ, Math.SQRT1_2, sampleRateHz));
  const length = Math.round(Math.max(MIN_WINDOW_SECONDS, PERIODS / f0Hz) * sampleRateHz);
  const window = hann(length);
  const count = Math.max(0, Math.floor((toSeconds - fromSeconds - length / sampleRateHz) / STEP_SECONDS));
  const seconds = new Float64Array(count);
  const powers = new Float64Array(count);
  const octaves = seconds.map((_, k) => {
    const first = Math.round((fromSeconds + k * STEP_SECONDS) * sampleRateHz);
    let steps = 0;
    for (let i = 0; i < length && first + i + 1 < signal.length; i++) {
      powers[k] += window[i] * signal[first + i] ** 2;
      steps += window[i] * (signal[first + i + 1] - signal[first + i]) ** 2;
    }
    seconds[k] = (first + length / 2) / sampleRateHz;
    return Math.log2(steps / powers[k]);
  });
  const least = LEAST_SHARE * powers.reduce((a, b) => Math.max(a, b), 0);
  const clear = octaves.map((octave, k) => (powers[k] > least ? octave : NaN));
  const round = findPeriodicMovement(seconds, clear, SEARCH);
  if (!round || round.turns < LEAST_TURNS || round.explained < LEAST_EXPLAINED) return undefined;
  const sine = sineOf(seconds, clear, round.rateHz);
  return sine && { ...round, startCycles: Math.atan2(sine.cosine, sine.sine) / (2 * Math.PI) };
}
