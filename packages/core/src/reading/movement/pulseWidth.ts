import { nelderMead } from '../../dsp/nelderMead';
import { mean, quantile } from '../statistics';

/** Levels of partials over time, dB. */
export interface PartialLines {
  seconds: Float64Array;
  /** Numbers of the partials, from 1. */
  partials: readonly number[];
  values: readonly Float64Array[];
}

/** A width that goes round as a sine does. */
export interface PulseWidthMotion {
  rateHz: number;
  /** Shares of the period; half of the way from the narrowest to the widest is the depth. */
  middle: number;
  depth: number;
  /** Where the sine stands at the start of the signal, cycles. */
  startCycles: number;
  /** Share that it explains of what the partials do against one another, 0..1. */
  explained: number;
}

const FEWEST_PARTIALS = 6;
const FEWEST_FRAMES = 24;
/** Partials of a pulse whose width is heard to move come and go. */
const LEAST_RANGE_DB = 6;
const LEAST_EXPLAINED = 0.6;
/** A first way is far off, as long as the spectrum is; one that explains less is none. */
const HOPELESS = 0.15;
const LEAST_DEPTH = 0.02;
/** Slower than so often within what is seen, it may as well not come round. */
const LEAST_TURNS = 1;
const FASTEST_HZ = 12;
const RATES_PER_TURN = 8;
/** Wider than half is the same as narrower. */
const NARROWEST = 0.03;
const WIDTH_STEP = 0.005;
const WIDTHS = Array.from(
  { length: 1 + Math.round((0.5 - NARROWEST) / WIDTH_STEP) },
  (_, k) => NARROWEST + k * WIDTH_STEP,
);
/** As deep as gaps come out in levels that are looked at through windows. */
const NOTCH_MIX = 0.85;
/** Steps of a width within one step of time, and what each costs, in squares of a decibel a partial. */
const MOST_STEPS = 6;
const STEP_COST = 0.3;
/** Deviations count no more than this: what is in a gap is anything. */
const MOST_DEVIATION_DB = 10;
const ROUNDS = 3;
const REFINING = 160;
/** More say nothing new. */
const MOST_FRAMES = 160;

/** Level of partial n of a pulse over that of a saw: it is a saw less one that is late by its width. */
const pulseDb = (n: number, width: number) =>
  10 * Math.log10(1 + NOTCH_MIX ** 2 - 2 * NOTCH_MIX * Math.cos(2 * Math.PI * n * width));

/** Of each partial, over the widths. */
const tables = new Map<number, Float64Array>();

function tableOf(n: number): Float64Array {
  const known = tables.get(n) ?? Float64Array.from(WIDTHS, (width) => pulseDb(n, width));
  tables.set(n, known);
  return known;
}

/** Partials of a pulse along a way of widths, in straight lines between those of the tables. */
function modelOf(partials: readonly number[], way: Float64Array): Float64Array[] {
  const places = way.map((width) => Math.min(WIDTHS.length - 1, (width - NARROWEST) / WIDTH_STEP));
  return partials.map((n) => {
    const table = tableOf(n);
    const line = new Float64Array(way.length);
    for (let t = 0; t < line.length; t++) {
      const before = Math.min(WIDTHS.length - 2, Math.floor(places[t]));
      line[t] = table[before] + (places[t] - before) * (table[before + 1] - table[before]);
    }
    return line;
  });
}

/** Share of what partials do by themselves that a way of widths explains. */
function explainedBy({ partials }: PartialLines, moved: readonly Float64Array[], way: Float64Array): number {
  let [left, whole] = [0, 0];
  movedAlone(modelOf(partials, way)).forEach((line, i) => {
    const own = moved[i];
    for (let t = 0; t < line.length; t++) {
      left += (line[t] - own[t]) ** 2;
      whole += own[t] ** 2;
    }
  });
  return 1 - left / whole;
}

function thinned({ seconds, partials, values }: PartialLines): PartialLines {
  const every = Math.ceil(seconds.length / MOST_FRAMES);
  const thin = (line: Float64Array) => line.filter((_, t) => t % every === 0);
  return { seconds: thin(seconds), partials, values: values.map(thin) };
}

/**
 * The width of a pulse that goes round. In turns (our own method): which width fits each moment best, on the
 * cheapest way through all of them (Viterbi 1967), and what the partials have besides, as a spectrum that
 * stands still and a level that all share. The way is then taken for a sine, which is fitted to the partials
 * themselves. Undefined where that explains too little of them.
 */
export function followPulseWidth(all: PartialLines): PulseWidthMotion | undefined {
  const lines = thinned(all);
  const { seconds, values } = lines;
  if (values.length < FEWEST_PARTIALS || seconds.length < FEWEST_FRAMES) return undefined;
  const deepest = Math.max(...values.map((line) => quantile(line, 0.95) - quantile(line, 0.05)));
  if (deepest < LEAST_RANGE_DB) return undefined;
  const moved = movedAlone(values);
  let spectrum = firstSpectrum(lines);
  let way: Float64Array = new Float64Array(seconds.length);
  for (let round = 0; round < ROUNDS; round++) {
    way = cheapestWay(lines, spectrum);
    if (explainedBy(lines, moved, way) < HOPELESS) return undefined;
    spectrum = spectrumBeside(lines, way);
  }
  const best = [false, true]
    .map((crosses) => refined(lines, moved, sineThrough(seconds, way, crosses)))
    .reduce((a, b) => (b.explained > a.explained ? b : a));
  const turns = best.rateHz * (seconds[seconds.length - 1] - seconds[0]);
  const isClear = best.explained > LEAST_EXPLAINED && best.depth > LEAST_DEPTH && turns > LEAST_TURNS;
  return isClear ? best : undefined;
}

/** As loud as each partial ever is, smooth over its logarithm: a straight line. */
function firstSpectrum({ partials, values }: PartialLines): Float64Array {
  const xs = partials.map(Math.log2);
  const tops = values.map((line) => quantile(line, 0.95) - pulseDb(1, 0.5));
  const [x, y] = [mean(xs), mean(tops)];
  const slope =
    xs.reduce((sum, at, i) => sum + (at - x) * (tops[i] - y), 0) / xs.reduce((sum, at) => sum + (at - x) ** 2, 0);
  return Float64Array.from(xs, (at) => y + slope * (at - x));
}

/** The width at every moment. */
function cheapestWay({ seconds, partials, values }: PartialLines, spectrum: Float64Array): Float64Array {
  const count = WIDTHS.length;
  const rows = partials.map(tableOf);
  const came = new Int16Array(seconds.length * count);
  let costs = new Float64Array(count);
  const left = new Float64Array(partials.length);
  for (let t = 0; t < seconds.length; t++) {
    const next = new Float64Array(count);
    for (let w = 0; w < count; w++) {
      let level = 0;
      for (let i = 0; i < left.length; i++) {
        left[i] = values[i][t] - spectrum[i] - rows[i][w];
        level += left[i] / left.length;
      }
      let own = 0;
      for (let i = 0; i < left.length; i++) own += Math.min(MOST_DEVIATION_DB, Math.abs(left[i] - level)) ** 2;
      let [least, from] = [Infinity, w];
      for (let v = Math.max(0, w - MOST_STEPS); t > 0 && v <= Math.min(count - 1, w + MOST_STEPS); v++) {
        const cost = costs[v] + STEP_COST * left.length * (v - w) ** 2;
        if (cost < least) [least, from] = [cost, v];
      }
      next[w] = own + (t > 0 ? least : 0);
      came[t * count + w] = from;
    }
    costs = next;
  }
  let at = costs.indexOf(Math.min(...costs));
  const way = new Float64Array(seconds.length);
  for (let t = seconds.length - 1; t >= 0; t--) {
    way[t] = WIDTHS[at];
    at = came[t * count + at];
  }
  return way;
}

/** What each partial has, on the average, besides what the width makes of it. */
function spectrumBeside({ partials, values }: PartialLines, way: Float64Array): Float64Array {
  const model = modelOf(partials, way);
  return Float64Array.from(values, (line, i) => mean(line) - mean(model[i]));
}

/** A width as a share up to a half. */
const folded = (width: number) => {
  const share = width - Math.floor(width);
  return Math.max(NARROWEST, Math.min(share, 1 - share));
};

interface Sine {
  rateHz: number;
  middle: number;
  depth: number;
  startCycles: number;
}

const widthAt = ({ rateHz, middle, depth, startCycles }: Sine, seconds: number) =>
  folded(middle + depth * Math.sin(2 * Math.PI * (rateHz * seconds + startCycles)));

/**
 * The sine through a way of widths, by least squares at every rate.
 *
 * @param crosses whether it goes over a half, where it is seen to come back: twice a turn
 */
function sineThrough(seconds: Float64Array, way: Float64Array, crosses: boolean): Sine {
  const span = seconds[seconds.length - 1] - seconds[0];
  const middle = mean(way);
  let best = { power: -1, rateHz: LEAST_TURNS / span, re: 0, im: 0 };
  for (let rateHz = LEAST_TURNS / span; rateHz < FASTEST_HZ; rateHz += 1 / span / RATES_PER_TURN) {
    let [re, im] = [0, 0];
    for (let t = 0; t < way.length; t++) {
      const angle = 2 * Math.PI * rateHz * seconds[t];
      re += ((way[t] - middle) * Math.sin(angle) * 2) / way.length;
      im += ((way[t] - middle) * Math.cos(angle) * 2) / way.length;
    }
    if (re * re + im * im > best.power) best = { power: re * re + im * im, rateHz, re, im };
  }
  const startCycles = Math.atan2(best.im, best.re) / (2 * Math.PI);
  if (!crosses) return { rateHz: best.rateHz, middle, depth: Math.sqrt(best.power), startCycles };
  // It is widest as it crosses.
  const top = (0.25 - startCycles) / best.rateHz;
  return { rateHz: best.rateHz / 2, middle: 0.5, depth: 0.5 - Math.min(...way), startCycles: (-top * best.rateHz) / 2 };
}

/** The sine as it fits the partials best. */
function refined(lines: PartialLines, moved: readonly Float64Array[], start: Sine): PulseWidthMotion {
  const { seconds } = lines;
  const span = seconds[seconds.length - 1] - seconds[0];
  const sineOf = ([turns, middle, depth, startCycles]: readonly number[]): Sine => ({
    rateHz: turns / span,
    middle,
    depth,
    startCycles: startCycles - (turns * (seconds[0] + span / 2)) / span,
  });
  const { rateHz, middle, depth, startCycles } = start;
  const { point, cost } = nelderMead(
    (at) => {
      const sine = sineOf(at);
      return -explainedBy(
        lines,
        moved,
        seconds.map((t) => widthAt(sine, t)),
      );
    },
    [rateHz * span, middle, depth, startCycles + rateHz * (seconds[0] + span / 2)],
    [0.2, 0.03, 0.03, 0.05],
    REFINING,
  );
  const found = sineOf(point);
  const flips = found.depth < 0 !== found.middle > 0.5;
  const start0 = found.startCycles + (flips ? 0.5 : 0);
  return {
    rateHz: found.rateHz,
    middle: found.middle > 0.5 ? 1 - found.middle : found.middle,
    depth: Math.abs(found.depth),
    startCycles: start0 - Math.floor(start0),
    explained: -cost,
  };
}

/** What partials do by themselves: without their means, and without what all do at once. */
function movedAlone(values: readonly Float64Array[]): Float64Array[] {
  const common = new Float64Array(values[0].length);
  const alone = values.map((line) => {
    const middle = mean(line);
    const flat = new Float64Array(line.length);
    for (let t = 0; t < flat.length; t++) {
      flat[t] = line[t] - middle;
      common[t] += flat[t] / values.length;
    }
    return flat;
  });
  for (const line of alone) for (let t = 0; t < line.length; t++) line[t] -= common[t];
  return alone;
}
