import { partialMagnitudes } from '../../dsp/harmonics';
import { fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { fitLine, median, rmsOf } from '../statistics';

/** What comes round in a line whose notes follow a step: sixteenths, eighths or quarters. */
export interface Pulse {
  stepSeconds: number;
  /** Time of the first step within the sound. */
  firstSeconds: number;
  /** How alike what happens from a time on is to what usually happens where notes begin: about 1 there, 0 elsewhere. */
  likeness(seconds: number): number;
}

const SIZE = 2048;
const HOP_SECONDS = 0.005;
const BANDS = 24;
const FROM_HZ = 60;
const TO_HZ = 8000;
/** What is under this does not rise. */
const FLOOR_DB = -50;
/** Rises are taken over so many hops to either side, and count for no more than this. */
const REACH = 4;
const MOST_DB = 12;
/** From a sixteenth at 210 BPM to a quarter at 95. */
const SHORTEST_SECONDS = 0.07;
const LONGEST_SECONDS = 0.64;
const MOST_TURNS = 64;
const LEAST_TURNS = 5;
const LEAST_SHARE = 0.04;
/** Of a step and its multiples, which share what comes round, the smallest is told. */
const SMALLEST_SHARE = 0.75;
/** Rises of a whole line against those of chance. */
const OVER_CHANCE = 6;

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
  return { stepSeconds, firstSeconds, likeness: likenessTo(rises, stepSeconds, firstSeconds) };
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
  const steps: { seconds: number; share: number }[] = [];
  const longest = Math.min(LONGEST_SECONDS, (0.75 * count * hopSeconds) / LEAST_TURNS);
  // So fine that the last multiple that is looked at is not missed.
  for (let seconds = SHORTEST_SECONDS; seconds < longest; ) {
    steps.push({ seconds, share: combOf(alike, seconds / hopSeconds) });
    const turns = Math.min(MOST_TURNS, (0.75 * count * hopSeconds) / seconds);
    seconds += (1.5 * hopSeconds) / turns;
  }
  if (steps.length === 0) return undefined;
  const most = Math.max(...steps.map(({ share }) => share));
  const scatter = median(steps.map(({ share }) => Math.abs(share)));
  if (most < Math.max(LEAST_SHARE, OVER_CHANCE * scatter)) return undefined;
  const first = steps.find(({ share }) => share > SMALLEST_SHARE * most)!;
  const near = steps.filter(({ seconds }) => Math.abs(seconds / first.seconds - 1) < 0.03);
  return finest(alike, near.reduce((a, b) => (b.share > a.share ? b : a)).seconds / hopSeconds) * hopSeconds;
}

export interface Rises {
  hopSeconds: number;
  count: number;
  /** Of every band, how much louder it becomes around each frame, dB. */
  bands: Float64Array[];
}

function risesOf(mono: Float64Array, sampleRateHz: number): Rises {
  const hop = Math.round(HOP_SECONDS * sampleRateHz);
  const count = Math.floor(mono.length / hop);
  const spectrum = createFrameSpectrum(SIZE);
  const top = Math.min(TO_HZ, 0.45 * sampleRateHz);
  const edges = Array.from({ length: BANDS + 1 }, (_, b) =>
    Math.round((FROM_HZ * (top / FROM_HZ) ** (b / BANDS) * SIZE) / sampleRateHz),
  );
  const powers = Array.from({ length: BANDS }, () => new Float64Array(count));
  let loudest = 0;
  for (let frame = 0; frame < count; frame++) {
    spectrum.transform(mono, frame * hop - SIZE / 2);
    let whole = 0;
    powers.forEach((band, b) => {
      for (let k = edges[b]; k < Math.max(edges[b] + 1, edges[b + 1]); k++)
        band[frame] += spectrum.real[k] ** 2 + spectrum.imaginary[k] ** 2;
      whole += band[frame];
    });
    loudest = Math.max(loudest, whole);
  }
  const floor = loudest * 10 ** (FLOOR_DB / 10) + 1e-30;
  return { hopSeconds: hop / sampleRateHz, count, bands: powers.map((band) => risesAround(band.map((power) => 10 * Math.log10(power + floor)))) };
}

const PARTIALS = 8;
const PERIODS = 3;
const LEAST_WINDOW_SECONDS = 0.03;
const TONAL_FLOOR_DB = -40;

/**
 * Of a line that hits are beside, how much louder each partial of the note that sounds becomes, less what is
 * halfway between them, where only the hits are.
 *
 * @param hzAt frequency of the line at a time; NaN where none sounds
 */
export function tonalRises(mono: Float64Array, sampleRateHz: number, hzAt: (seconds: number) => number): Rises {
  const hop = Math.round(HOP_SECONDS * sampleRateHz);
  const hopSeconds = hop / sampleRateHz;
  const count = Math.floor(mono.length / hop);
  const cached = new Map<number, { hz: number; levels: Float64Array }>();
  const levelsAt = (frame: number, hz: number) => {
    const known = cached.get(frame);
    if (known?.hz === hz) return known.levels;
    const levels = tonalLevels(frame, hz);
    cached.set(frame, { hz, levels });
    return levels;
  };
  const tonalLevels = (frame: number, hz: number) => {
    const length = Math.round(Math.max(LEAST_WINDOW_SECONDS, PERIODS / hz) * sampleRateHz);
    const start = Math.max(0, Math.min(mono.length - length, frame * hop - (length >> 1)));
    const halves = partialMagnitudes(mono, start, length, (Math.PI * hz) / sampleRateHz, 2 * PARTIALS + 1);
    return Float64Array.from({ length: PARTIALS }, (_, n) =>
      Math.max(0, (halves[2 * n + 1] ?? 0) - ((halves[2 * n] ?? 0) + (halves[2 * n + 2] ?? 0)) / 2),
    );
  };
  const pairs: ({ before: Float64Array; after: Float64Array } | undefined)[] = [];
  let loudest = 0;
  for (let frame = 0; frame < count; frame++) {
    const hz = hzAt(frame * hopSeconds);
    if (!(hz > 0)) {
      pairs.push(undefined);
      continue;
    }
    const pair = { before: levelsAt(frame - REACH, hz), after: levelsAt(frame + REACH, hz) };
    pairs.push(pair);
    loudest = Math.max(loudest, ...pair.after);
  }
  const floor = loudest * 10 ** (TONAL_FLOOR_DB / 20) + 1e-9;
  const rise = (before: number, after: number) =>
    Math.max(-MOST_DB, Math.min(MOST_DB, 20 * Math.log10((after + floor) / (before + floor))));
  const bands = Array.from({ length: PARTIALS }, (_, n) =>
    Float64Array.from(pairs, (pair) => (pair ? rise(pair.before[n], pair.after[n]) : 0)),
  );
  return { hopSeconds, count, bands };
}

const risesAround = (decibels: Float64Array) =>
  decibels.map((_, i) =>
    i < REACH || i + REACH >= decibels.length
      ? 0
      : Math.max(-MOST_DB, Math.min(MOST_DB, decibels[i + REACH] - decibels[i - REACH])),
  );

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

/** Told onsets this much of one mind tell where steps begin. */
const OF_ONE_MIND = 0.7;
/** Those that are told to be this much of a step off have no say. */
const OFF_SHARE = 0.2;

/** The step, made exact, and where in it notes begin. */
function placeOf(
  mono: Float64Array,
  sampleRateHz: number,
  step: number,
  onsets: readonly number[],
): { stepSeconds: number; firstSeconds: number } {
  let [cos, sin] = [0, 0];
  for (const at of onsets) {
    cos += Math.cos((2 * Math.PI * at) / step) / onsets.length;
    sin += Math.sin((2 * Math.PI * at) / step) / onsets.length;
  }
  const isTold = Math.hypot(cos, sin) > OF_ONE_MIND;
  const start = isTold ? (Math.atan2(sin, cos) / (2 * Math.PI)) * step : breakOf(mono, sampleRateHz, step);
  const first = start - step * Math.floor(start / step);
  if (!isTold) return { stepSeconds: step, firstSeconds: first };
  const turns = onsets.map((at) => Math.round((at - first) / step));
  const near = onsets.flatMap((at, i) => (Math.abs(at - first - turns[i] * step) < OFF_SHARE * step ? [i] : []));
  const line = fitLine(
    near.map((i) => turns[i]),
    near.map((i) => onsets[i]),
    near.map(() => 1),
  );
  // A straight line through few of them says nothing.
  if (near.length < LEAST_TURNS || Math.abs(line.slope / step - 1) > FINE_SHARE) return { stepSeconds: step, firstSeconds: first };
  return { stepSeconds: line.slope, firstSeconds: line.intercept - line.slope * Math.floor(line.intercept / line.slope) };
}

const BREAK_BINS_SECONDS = 0.01;
/** Frames apart, in hops. */
const BREAK_LAG = 4;
const BREAK_TO_HZ = 5000;
/** Slow starts break what sounded before them only once they are loud enough. */
const BREAK_LATE_SECONDS = 0.01;
/** Of several breaks within a step, those this clear against the clearest may be the start. */
const CLEAR_BREAK = 0.6;
const SILENT_SHARE = 0.01;
const SILENCE_SECONDS = 0.02;

/**
 * Where in the step what sounds is least what it would have become, had it gone on (the complex domain of
 * Bello, Duxbury, Davies & Sandler 2004, over all turns).
 */
function breakOf(mono: Float64Array, sampleRateHz: number, stepSeconds: number): number {
  const hop = Math.round(HOP_SECONDS * sampleRateHz);
  const spectrum = createFrameSpectrum(SIZE);
  const top = Math.round((Math.min(BREAK_TO_HZ, 0.45 * sampleRateHz) * SIZE) / sampleRateHz);
  const bins = Math.max(6, Math.round(stepSeconds / BREAK_BINS_SECONDS));
  const sums = new Float64Array(bins);
  const counts = new Float64Array(bins);
  const frames: { real: Float64Array; imaginary: Float64Array }[] = [];
  for (let frame = 0; (frame + 1) * hop < mono.length; frame++) {
    spectrum.transform(mono, frame * hop - SIZE / 2);
    frames.push({ real: spectrum.real.slice(0, top), imaginary: spectrum.imaginary.slice(0, top) });
    const [a, b, c] = [frames[frame - 2 * BREAK_LAG], frames[frame - BREAK_LAG], frames[frame]];
    if (!a) continue;
    delete frames[frame - 2 * BREAK_LAG];
    const middle = ((frame - BREAK_LAG) * hop) / sampleRateHz / stepSeconds;
    const bin = Math.floor((middle - Math.floor(middle)) * bins);
    let apart = 0;
    let whole = 1e-9;
    for (let k = 1; k < top; k++) {
      const before = Math.hypot(a.real[k], a.imaginary[k]) + 1e-12;
      const now = Math.hypot(b.real[k], b.imaginary[k]) + 1e-12;
      // What turned so far from the one before turns as far again.
      const turnRe = (b.real[k] * a.real[k] + b.imaginary[k] * a.imaginary[k]) / (before * now);
      const turnIm = (b.imaginary[k] * a.real[k] - b.real[k] * a.imaginary[k]) / (before * now);
      const re = b.real[k] * turnRe - b.imaginary[k] * turnIm;
      const im = b.real[k] * turnIm + b.imaginary[k] * turnRe;
      apart += Math.hypot(c.real[k] - re, c.imaginary[k] - im);
      whole += Math.max(now, Math.hypot(c.real[k], c.imaginary[k]));
    }
    sums[bin] += apart / whole;
    counts[bin]++;
  }
  const means = sums.map((sum, bin) => sum / Math.max(1, counts[bin]));
  const around = means.map((at, bin) => means[(bin + bins - 1) % bins] + 2 * at + means[(bin + 1) % bins]);
  const least = Math.min(...around);
  const clear = least + CLEAR_BREAK * (Math.max(...around) - least);
  const startOf = (bin: number) => ((bin + 0.5) / bins) * stepSeconds - BREAK_LATE_SECONDS;
  const [best, ...others] = Array.from(around.keys())
    .filter((bin) => around[bin] >= clear)
    .sort((a, b) => around[b] - around[a])
    .map(startOf);
  const first = startFromSilence(mono, sampleRateHz);
  if (first === undefined) return best;
  const offOf = (start: number) => Math.abs(start - first - stepSeconds * Math.round((start - first) / stepSeconds));
  return others.reduce((a, b) => (offOf(b) < offOf(a) ? b : a), best);
}

/** Where the first note begins, if there is silence before it. */
function startFromSilence(mono: Float64Array, sampleRateHz: number): number | undefined {
  const hop = Math.round(HOP_SECONDS * sampleRateHz);
  const levels = Float64Array.from({ length: Math.floor(mono.length / hop) }, (_, i) => rmsOf(mono, i * hop, (i + 1) * hop));
  const loudest = levels.reduce((a, b) => Math.max(a, b), 0);
  const first = levels.findIndex((level) => level > SILENT_SHARE * loudest);
  return first * HOP_SECONDS > SILENCE_SECONDS ? first * HOP_SECONDS : undefined;
}

/** Rises before a note begins are seen by frames that reach into it. */
const BEFORE_SECONDS = 0.03;
const ATTACK_SECONDS = 0.12;

function likenessTo({ hopSeconds, count, bands }: Rises, stepSeconds: number, firstSeconds: number) {
  const length = Math.round(Math.min(stepSeconds, ATTACK_SECONDS + BEFORE_SECONDS) / hopSeconds);
  const turns = Math.floor((count * hopSeconds - firstSeconds) / stepSeconds);
  const valueAt = (band: Float64Array, seconds: number, i: number) => readAt(band, (seconds - BEFORE_SECONDS) / hopSeconds + i);
  const usual = bands.map((band) =>
    Float64Array.from({ length }, (_, i) => {
      let sum = 0;
      for (let k = 0; k < turns; k++) sum += valueAt(band, firstSeconds + k * stepSeconds, i);
      return Math.max(0, sum / turns);
    }),
  );
  const whole = usual.reduce((sum, row) => sum + row.reduce((a, x) => a + x * x, 0), 0);
  return (seconds: number) => {
    let sum = 0;
    bands.forEach((band, b) => usual[b].forEach((x, i) => (sum += x * valueAt(band, seconds, i))));
    return whole > 0 ? sum / whole : 0;
  };
}
