import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { readEvenly } from '../../dsp/sinc';
import type { PartialFrames } from '../partials/partialFrames';
import { median, rmsOf } from '../statistics';

/** A note, with what is known of it. */
export interface Started {
  mono: Float64Array;
  sampleRateHz: number;
  f0Hz: number;
  /** Number of its highest partial, at its start or later. */
  highest: number;
  fromSeconds: number;
  toSeconds: number;
  /** Where its level begins to rise, and where it has risen. */
  cornersSeconds: readonly number[];
}

export interface StartNoise {
  /** Against the tone at the same time. */
  levelDb: number;
  centroidHz: number;
}

/** What belongs to the start. */
const START_SECONDS = 0.06;
/** Noise is so much stronger at the start than later. */
const OVER_LATER_DB = 12;
const LEAST_DB = -28;

/**
 * Noise that comes with the start of a note only: between its periods where it lasts for several of them,
 * over its highest partial where it is a click.
 */
export function findStartNoise(note: Started): StartNoise | undefined {
  return betweenPeriods(note) ?? overPartials(note);
}

/**
 * What does not go from period to period in a straight line: x(t) − 2·x(t + T) + x(t + 2T), less what of it
 * has the waveform's own shape. A level that rises or falls evenly leaves nothing, noise six times its power.
 */
function betweenPeriods({ mono, sampleRateHz, f0Hz, fromSeconds, toSeconds }: Started): StartNoise | undefined {
  const periodSeconds = 1 / f0Hz;
  const perPeriod = Math.ceil(sampleRateHz / f0Hz);
  const available = Math.floor((toSeconds - fromSeconds) / periodSeconds);
  const early = Math.round(START_SECONDS / periodSeconds);
  // The first period holds the onset itself.
  if (early < 3 || available < 3 * early + 4) return undefined;
  const read = readEvenly(
    mono,
    sampleRateHz / f0Hz / perPeriod,
    (3 * early + 4) * perPeriod,
    fromSeconds * sampleRateHz,
  );
  const rests = Array.from({ length: 3 * early + 2 }, (_, k) => restOf(read, k * perPeriod, perPeriod));
  const share = (from: number, to: number) =>
    10 * Math.log10(median(rests.slice(from, to).map((rest) => rest.share)) + 1e-12);
  const start = share(1, early);
  const later = share(2 * early, rests.length);
  if (start < LEAST_DB || start < later + OVER_LATER_DB || !isRandom(rests.slice(1, early))) return undefined;
  const crossings = rests.slice(1, early).reduce((sum, rest) => sum + rest.crossings, 0) / (early - 1);
  return { levelDb: start, centroidHz: (crossings / 2) * f0Hz };
}

/** Rests of noise are turned round from one to the next, by two thirds; those of a movement are alike. */
const MOST_ALIKE = -0.45;

function isRandom(rests: readonly { rest: Float64Array }[]): boolean {
  let [along, own] = [0, 0];
  for (let k = 1; k < rests.length; k++) {
    rests[k].rest.forEach((x, i) => {
      along += x * rests[k - 1].rest[i];
      own += 0.5 * (x * x + rests[k - 1].rest[i] ** 2);
    });
  }
  return along / own < MOST_ALIKE;
}

function restOf(signal: Float64Array, from: number, length: number) {
  const rest = new Float64Array(length);
  let [along, own] = [0, 0];
  for (let i = 0; i < length; i++) {
    const at = from + i;
    rest[i] = signal[at] - 2 * signal[at + length] + signal[at + 2 * length];
    along += rest[i] * signal[at + length];
    own += signal[at + length] ** 2;
  }
  let [power, crossings] = [0, 0];
  for (let i = 0; i < length; i++) {
    rest[i] -= (along / (own + 1e-30)) * signal[from + length + i];
    power += rest[i] * rest[i];
    if (i > 0 && rest[i] > 0 !== rest[i - 1] > 0) crossings++;
  }
  return { rest, share: power / 6 / (own + 1e-30), crossings };
}

/** Partials under this are not there. */
const SILENT_DB = -45;
/** At the start of a note, whose filter may fall at once, more than what is between partials, as power. */
const EARLY_SECONDS = 0.08;
const OVER_BETWEEN = 10;

/** Number of the highest partial of a note on the whole, or at its start, where noise may stand as high. */
export function highestPartial(
  partialsDb: readonly number[],
  { seconds, amplitudes, between, count }: PartialFrames,
  fromSeconds: number,
): number {
  const early = [...seconds.keys()].filter((t) => seconds[t] > fromSeconds && seconds[t] < fromSeconds + EARLY_SECONDS);
  const cells = early.map((t) => ({
    powers: amplitudes.subarray(t * count, (t + 1) * count).map((x) => (x * x) / 2),
    between: between.subarray(t * count, (t + 1) * count),
  }));
  const least =
    10 ** (SILENT_DB / 10) * Math.max(0, ...cells.map(({ powers }) => powers.reduce((a, b) => Math.max(a, b), 0)));
  const tonal = cells.map((cell) =>
    cell.powers.findLastIndex((power, n) => power > least && power > OVER_BETWEEN * cell.between[n]),
  );
  return (
    1 +
    Math.max(
      partialsDb.findLastIndex((db) => db > SILENT_DB),
      ...tonal,
    )
  );
}

const BEFORE_SECONDS = 0.005;
const CLICK_SECONDS = 0.012;
/** The lowest frequency at which a click is looked for, against the highest partial. */
const EDGE_RATIO = 1.6;
const HIGHEST_EDGE_SHARE = 0.3;
const CLICK_OVER_LATER_DB = 20;
const CLICK_LEAST_DB = -42;
/** What is over sooner than this is the step of an onset, or a corner of its rise, not noise. */
const STEP_SECONDS = 0.0007;
const STEP_SHARE = 0.75;

/** Noise over the highest partial at the onset, and not afterwards. */
function overPartials({ mono, sampleRateHz, f0Hz, highest, fromSeconds, toSeconds, cornersSeconds }: Started) {
  const edgeHz = EDGE_RATIO * highest * f0Hz + 500;
  if (highest < 1 || edgeHz > HIGHEST_EDGE_SHARE * sampleRateHz) return undefined;
  const from = Math.max(0, Math.round((fromSeconds - BEFORE_SECONDS) * sampleRateHz));
  const length = Math.min(
    Math.round((toSeconds - fromSeconds) * sampleRateHz),
    Math.round(4 * START_SECONDS * sampleRateHz),
  );
  const segment = mono.subarray(from, from + length);
  const high = highsOf(segment, edgeHz / sampleRateHz);
  const block = Math.max(1, Math.round(STEP_SECONDS * sampleRateHz));
  const blocks = Array.from({ length: Math.floor(length / block) }, (_, k) => meanSquare(high, k * block, block));
  const click = Math.ceil(((BEFORE_SECONDS + CLICK_SECONDS) * sampleRateHz) / block);
  const start = blocks.slice(0, click);
  const all = start.reduce((a, b) => a + b, 0);
  const top = Math.max(...start);
  const corners = cornersSeconds.map((at) => (at * sampleRateHz - from) / block);
  const atCorners = start.reduce(
    (sum, power, k) => sum + (corners.some((at) => Math.abs(at - k - 0.5) < 1) ? power : 0),
    0,
  );
  const later = median(blocks.slice(2 * click));
  if (isPeriodic(high, sampleRateHz, f0Hz)) return undefined;
  if (Math.max(top, atCorners) > STEP_SHARE * all || 10 * Math.log10(top / (later + 1e-15)) < CLICK_OVER_LATER_DB)
    return undefined;
  const tone = meanSquare(segment, 0, click * block);
  // As if it were white: what lies under the edge is hidden by the tone.
  const noise = top / (1 - (2 * edgeHz) / sampleRateHz);
  const levelDb = 10 * Math.log10(noise / (tone + 1e-15));
  return levelDb > CLICK_LEAST_DB ? { levelDb, centroidHz: (edgeHz + sampleRateHz / 2) / 2 } : undefined;
}

/** A bright start that is the tone's own comes again after a period, up to a few of them. */
const PERIODIC = 0.4;
const PERIODS_LOOKED = 4;
/** Of its power, that comes again; the end of a click is less. */
const LEAST_AGAIN = 0.01;
/** Highs are compared by level, too, over so much time: waves hang on the last cent of the pitch. */
const SMOOTHED_SECONDS = 0.0004;
/** A click goes on for longer than a period of a high note, and is like itself then: it is over by now. */
const CLICK_OVER_SECONDS = 0.006;

/**
 * Whether what is over the partials comes again with the periods, by its level and by its wave. The level of
 * noise that goes on for longer than a period is like itself, too, but not its wave.
 */
function isPeriodic(high: Float64Array, sampleRateHz: number, f0Hz: number): boolean {
  const whole = Math.ceil(CLICK_OVER_SECONDS * f0Hz);
  const seconds = BEFORE_SECONDS + (PERIODS_LOOKED * whole) / f0Hz;
  const end = Math.min(high.length, Math.round(seconds * sampleRateHz));
  const block = Math.max(1, Math.round(SMOOTHED_SECONDS * sampleRateHz));
  const levels = Float64Array.from({ length: Math.floor(end / block) }, (_, k) =>
    rmsOf(high, k * block, (k + 1) * block),
  );
  // In even parts of a period, which is no whole number of samples.
  const perPeriod = Math.ceil(sampleRateHz / f0Hz);
  const wave = readEvenly(high, sampleRateHz / f0Hz / perPeriod, Math.floor((end * perPeriod * f0Hz) / sampleRateHz));
  return [whole, 2 * whole].some(
    (periods) =>
      comesAgain(levels, Math.round((periods * sampleRateHz) / f0Hz / block)) && comesAgain(wave, periods * perPeriod),
  );
}

function comesAgain(values: Float64Array, lag: number): boolean {
  let [along, now, later] = [0, 0, 0];
  for (let k = 0; k + lag < values.length; k++) {
    along += values[k] * values[k + lag];
    now += values[k] ** 2;
    later += values[k + lag] ** 2;
  }
  return later > LEAST_AGAIN * now && along > PERIODIC * Math.sqrt(now * later);
}

const meanSquare = (signal: Float64Array, from: number, length: number) => rmsOf(signal, from, from + length) ** 2;

/** What of a signal lies over an edge, as a share of the sampling rate. */
function highsOf(signal: Float64Array, edge: number): Float64Array {
  const size = nextPowerOfTwo(2 * signal.length);
  const [re, im] = [new Float64Array(size), new Float64Array(size)];
  re.set(signal);
  // The end is faded, so that it does not look like a step.
  const fade = Math.min(signal.length, 400);
  for (let i = 0; i < fade; i++) re[signal.length - 1 - i] *= i / fade;
  fftOfSize(size).forward(re, im);
  for (let k = 0; k <= size / 2; k++) {
    const gain = Math.min(1, Math.max(0, (k / size / edge - 0.85) / 0.3));
    re[k] *= gain;
    im[k] *= gain;
    if (k === 0 || k === size / 2) continue;
    re[size - k] *= gain;
    im[size - k] *= gain;
  }
  fftOfSize(size).inverse(re, im);
  return re.slice(0, signal.length).map((x) => x / size);
}
