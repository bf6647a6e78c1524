import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { median } from '../statistics';
import { type Rises, risesOf } from './rises';
import { placeOf } from './stepPlace';

/** What comes round in a line whose notes follow a step: sixteenths, eighths or quarters. */
export interface Pulse {
  stepSeconds: number;
  /** Time of the first step within the sound. */
  firstSeconds: number;
  /** How alike a time is to those at which notes usually begin: about 1 there, 0 elsewhere. */
  likeness(seconds: number): number;
  /** How much of what happens there is that all becomes louder together, 0..1: little of a vibrato. */
  together: number;
}

/** From a sixteenth at 210 BPM to a quarter at 95. */
const SHORTEST_SECONDS = 0.07;
const LONGEST_SECONDS = 0.64;
const MOST_TURNS = 64;
const LEAST_TURNS = 5;
const LEAST_SHARE = 0.04;
/** Of a step and its multiples, which share what comes round, the smallest is told. */
const SMALLEST_SHARE = 0.75;
/** Against what is usual of all steps: of noise no more than 7, of lines from 12 on. */
const OVER_CHANCE = 8;

/**
 * The step at which a line's notes begin, from what comes round: rises and falls of bands are compared with
 * themselves over the multiples of each step (the comb of Ellis 2007 on the bands of Klapuri, Eronen & Astola
 * 2006), so that also notes that start slowly are found. Undefined where nothing comes round.
 */
export function findPulse(
  mono: Float64Array,
  sampleRateHz: number,
  onsets: readonly number[],
  tone?: Rises,
): Pulse | undefined {
  const whole = risesOf(mono, sampleRateHz);
  const ofWhole = stepOf(whole);
  const ofTone = tone && stepOf(tone);
  // Notes may be struck at the steps of what is hit beside them without their partials telling each of them.
  const [rises, step] =
    tone && ofTone ? [tone, isPartOf(ofWhole, ofTone) ? ofWhole! : ofTone] : [tone ?? whole, ofWhole];
  if (step === undefined) return undefined;
  const { stepSeconds, firstSeconds } = placeOf(mono, sampleRateHz, step, onsets);
  return { stepSeconds, firstSeconds, ...startsOf(rises, stepSeconds, firstSeconds) };
}

const PART_SHARE = 0.02;

/** Whether a step goes twice or more often into another. */
function isPartOf(small: number | undefined, large: number): boolean {
  if (small === undefined) return false;
  const times = Math.round(large / small);
  return times > 1 && Math.abs(large / small / times - 1) < PART_SHARE;
}

/** The step that comes round most clearly, s. */
function stepOf({ hopSeconds, count, bands }: Rises): number | undefined {
  const alike = autocorrelationOf(bands, count);
  if (!alike) return undefined;
  const steps: { seconds: number; share: number; turns: number }[] = [];
  const longest = Math.min(LONGEST_SECONDS, (0.75 * count * hopSeconds) / LEAST_TURNS);
  // So fine that the last multiple that is looked at is not missed.
  for (let seconds = SHORTEST_SECONDS; seconds < longest;) {
    const turns = Math.min(MOST_TURNS, (0.75 * count * hopSeconds) / seconds);
    steps.push({ seconds, share: combOf(alike, seconds / hopSeconds), turns });
    seconds += (1.5 * hopSeconds) / turns;
  }
  if (steps.length === 0) return undefined;
  const most = Math.max(...steps.map(({ share }) => share));
  // Of few turns chance makes more.
  const overChance = steps.map(({ share, turns }) => share * Math.sqrt(turns));
  const scatter = median(overChance.map(Math.abs));
  if (most < LEAST_SHARE || Math.max(...overChance) < OVER_CHANCE * scatter) return undefined;
  const first = steps.find(({ share }) => share > SMALLEST_SHARE * most)!;
  const near = steps.filter(({ seconds }) => Math.abs(seconds / first.seconds - 1) < 0.03);
  return finest(alike, near.reduce((a, b) => (b.share > a.share ? b : a)).seconds / hopSeconds) * hopSeconds;
}

/** Of all bands together, against the value at 0, as if all lags saw as much. */
function autocorrelationOf(bands: readonly Float64Array[], count: number): Float64Array | undefined {
  const size = nextPowerOfTwo(2 * count);
  const fft = fftOfSize(size);
  const power = new Float64Array(size);
  for (const band of bands) {
    const real = new Float64Array(size);
    const imaginary = new Float64Array(size);
    real.set(band);
    fft.forward(real, imaginary);
    for (let k = 0; k < size; k++) power[k] += real[k] ** 2 + imaginary[k] ** 2;
  }
  fft.forward(power, new Float64Array(size));
  if (!(power[0] > 0)) return undefined;
  return power.slice(0, Math.floor(0.75 * count)).map((value, lag) => (value / power[0]) * (count / (count - lag)));
}

function combOf(alike: Float64Array, step: number, most = MOST_TURNS): number {
  let sum = 0;
  let turns = 0;
  for (; turns < most && (turns + 1) * step < alike.length - 1; turns++) sum += readAt(alike, (turns + 1) * step);
  return turns > 0 ? sum / turns : 0;
}

const FINE_SHARE = 0.006;
const FINE_STEPS = 120;

/** The step that all lags together tell best. */
function finest(alike: Float64Array, step: number): number {
  let best = step;
  let most = -Infinity;
  for (let i = -FINE_STEPS; i <= FINE_STEPS; i++) {
    const near = step * (1 + (FINE_SHARE * i) / FINE_STEPS);
    const share = combOf(alike, near, Infinity);
    if (share > most) [best, most] = [near, share];
  }
  return best;
}

function readAt(values: Float64Array, at: number): number {
  const whole = Math.floor(at);
  return whole >= 0 && whole + 1 < values.length
    ? values[whole] + (at - whole) * (values[whole + 1] - values[whole])
    : 0;
}

/** Rises before a note begins are seen by frames that reach into it. */
const BEFORE_SECONDS = 0.03;
const ATTACK_SECONDS = 0.12;

function startsOf({ hopSeconds, count, bands }: Rises, stepSeconds: number, firstSeconds: number) {
  const length = Math.round(Math.min(stepSeconds, ATTACK_SECONDS + BEFORE_SECONDS) / hopSeconds);
  const turns = Math.floor((count * hopSeconds - firstSeconds) / stepSeconds);
  const valueAt = (band: Float64Array, seconds: number, i: number) =>
    readAt(band, (seconds - BEFORE_SECONDS) / hopSeconds + i);
  const means = bands.map((band) =>
    Float64Array.from({ length }, (_, i) => {
      let sum = 0;
      for (let k = 0; k < turns; k++) sum += valueAt(band, firstSeconds + k * stepSeconds, i);
      return sum / turns;
    }),
  );
  const usual = means.map((row) => row.map((x) => Math.max(0, x)));
  const whole = usual.reduce((sum, row) => sum + row.reduce((a, x) => a + x * x, 0), 0);
  let risen = 0;
  let moved = 0;
  for (let i = 0; i < length; i++) {
    risen += Math.max(
      0,
      means.reduce((sum, row) => sum + row[i], 0),
    );
    moved += means.reduce((sum, row) => sum + Math.abs(row[i]), 0);
  }
  return {
    together: moved > 0 ? risen / moved : 0,
    likeness(seconds: number) {
      let sum = 0;
      bands.forEach((band, b) => usual[b].forEach((x, i) => (sum += x * valueAt(band, seconds, i))));
      return whole > 0 ? sum / whole : 0;
    },
  };
}
