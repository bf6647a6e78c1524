import type { PartialFrames } from '../partials/partialFrames';
import { median } from '../statistics';

/** A notch that goes once through the partials of a note. */
export interface MovingNotch {
  fromHz: number;
  toHz: number;
  seconds: number;
  /** How far the partials are down where it passes, dB. */
  depthDb: number;
}

/** Fewer partials are too far apart to see it go from one to the next. */
const MIN_PARTIALS = 10;
const MIN_FRAMES = 24;
const MOST_PARTIALS = 80;
/** Partials to either side that say what the one between them should have. */
const NEIGHBOURS = 3;
const LEAST_DB = -50;
/** A notch that stands still is the tone's own: it has to go this far. */
const LEAST_OCTAVES = 0.6;
/** What mostly stays so far under a neighbour is a gap of the source, in which only noise moves. */
const GAP_DB = 14;
const LEAST_DEPTH_DB = 5;
/** Against the deepest of paths that go other ways. */
const LEAD = 1.6;
const STEPS_PER_OCTAVE = 8;
/** Places between two steps that a path may pass. */
const PLACES = 8;

/**
 * A notch that moves through the partials: their levels against the median of their neighbours and against
 * their own over time leave only what moves across them; the straight path over the logarithm of frequency
 * along which most is missing is its way (our own method).
 *
 * @param fromSeconds once the attack is over
 */
export function findMovingNotch(
  frames: PartialFrames,
  fromSeconds: number,
  toSeconds: number,
): MovingNotch | undefined {
  const chosen = [...frames.seconds.keys()].filter(
    (t) => frames.seconds[t] >= fromSeconds && frames.seconds[t] <= toSeconds,
  );
  const count = Math.min(frames.count, MOST_PARTIALS);
  if (count < MIN_PARTIALS || chosen.length < MIN_FRAMES) return undefined;
  const dips = dipsOf(frames, chosen, count);
  const lowest = Math.log2(2);
  const octaves = Math.log2(count - 1) - lowest;
  const steps = Math.floor(octaves * STEPS_PER_OCTAVE);
  const partialAt = Int32Array.from({ length: steps * PLACES + 1 }, (_, place) =>
    Math.round(2 ** (lowest + place / PLACES / STEPS_PER_OCTAVE) - 1),
  );
  const along = (from: number, to: number) => {
    const slope = ((to - from) * PLACES) / (dips.length - 1);
    let sum = 0;
    for (let k = 0; k < dips.length; k++) sum += dips[k][partialAt[Math.round(from * PLACES + slope * k)]];
    return sum / dips.length;
  };
  let best = { from: 0, to: 0, mean: 0 };
  const others: number[] = [];
  for (let from = 0; from <= steps; from++) {
    for (let to = 0; to <= steps; to++) {
      const mean = along(from, to);
      others.push(mean);
      if (mean < best.mean && Math.abs(to - from) >= LEAST_OCTAVES * STEPS_PER_OCTAVE) best = { from, to, mean };
    }
  }
  const usual = -median(others.filter((mean) => mean < 0));
  if (-best.mean < LEAST_DEPTH_DB || -best.mean < LEAD * usual + LEAST_DEPTH_DB / 2) return undefined;
  const hzOf = (step: number) => frames.f0Hz * 2 ** (lowest + step / STEPS_PER_OCTAVE);
  return {
    fromHz: hzOf(best.from),
    toHz: hzOf(best.to),
    seconds: frames.seconds[chosen[chosen.length - 1]] - frames.seconds[chosen[0]],
    depthDb: -best.mean,
  };
}

/**
 * One row a frame: what each partial lacks against its neighbours, less what it lacks all along, dB. Gaps of
 * a hollow source lack what the partial under them does.
 */
function dipsOf({ amplitudes, count: all }: PartialFrames, chosen: readonly number[], count: number): Float64Array[] {
  const levels = chosen.map((t) =>
    Float64Array.from({ length: count }, (_, n) => 20 * Math.log10(amplitudes[t * all + n] + 1e-9)),
  );
  const usually = Float64Array.from({ length: count }, (_, n) => median(levels.map((row) => row[n])));
  const isGap = (n: number) => usually[n] < Math.max(usually[n - 1] ?? -Infinity, usually[n + 1] ?? -Infinity) - GAP_DB;
  const solid = [...usually.keys()].filter((n) => !isGap(n));
  const top = Math.max(...levels.map((row) => row.reduce((a, b) => Math.max(a, b), -Infinity)));
  const against = levels.map((row) =>
    Float64Array.from(solid, (n, k) => {
      const around = solid.slice(Math.max(0, k - NEIGHBOURS), k + NEIGHBOURS + 1).map((other) => row[other]);
      const usual = median(around);
      return usual < top + LEAST_DB ? 0 : Math.max(LEAST_DB, row[n] - usual);
    }),
  );
  const own = Float64Array.from(solid, (_, k) => median(against.map((row) => row[k])));
  /** Which of the solid ones stands at each partial, or under it. */
  let k = 0;
  const under = Int32Array.from({ length: count }, (_, n) => (solid[k + 1] === n ? ++k : k));
  return against.map((row) => Float64Array.from(under, (solidAt) => row[solidAt] - own[solidAt]));
}
