import { dotProduct } from '../../dsp/dotProduct';
import { solveLinear } from '../../dsp/solveLinear';
import { legendre, median } from '../statistics';

/** A movement that comes round in a series of values over time. */
export interface PeriodicMovement {
  rateHz: number;
  /** Half of the way from its lowest to its highest value, in the unit of the values. */
  depth: number;
  /** When its depth has come to half of what it then stays at; 0 when it is there from the start. */
  onsetSeconds: number;
  /** Which of the plain shapes one turn is most like. */
  shape: MovementShape;
  /** Share of what the values do besides their slow course that the movement explains, 0..1. */
  explained: number;
  /** How many turns were seen. */
  turns: number;
}

export type MovementShape = 'sine' | 'triangle' | 'rising' | 'falling' | 'square';

interface Search {
  minHz: number;
  maxHz: number;
  /** Movements of less are none. */
  leastDepth: number;
  /** Whether it may come by and by, as a player's does: then each moment's own depth explains it. */
  mayGrow?: boolean;
}

/** The slow course is a polynomial of this order. */
const COURSE_ORDER = 3;
/** Harmonics of the movement that are fitted, so that shapes other than sines count whole. */
const HARMONICS = 3;
const MIN_TURNS = 2;
/** Candidates a turn apart over the whole series, times this, so that no rate falls between two. */
const RATES_PER_TURN = 4;
const LEAST_EXPLAINED = 0.5;
/** Of one that grows, its mean depth explains less. */
const LEAST_EVENLY = 0.3;
/** A rate is known to this share. */
const RATE_ERROR = 0.03;

/**
 * The strongest periodic movement of a series: a polynomial and a harmonic series are fitted together by
 * least squares at every candidate rate (Lomb 1976; Scargle 1982, with a floating course), the best rate is
 * refined, and one turn is folded out of all. Undefined when nothing explains half of what is left of the
 * values over their course. NaNs are left out.
 */
export function findPeriodicMovement(
  seconds: Float64Array,
  values: Float64Array,
  { minHz, maxHz, leastDepth, mayGrow = false }: Search,
): PeriodicMovement | undefined {
  const points = [...seconds.keys()].filter((i) => Number.isFinite(values[i]));
  if (points.length < LEAST_POINTS) return undefined;
  const times = Float64Array.from(points, (i) => seconds[i]);
  const ys = Float64Array.from(points, (i) => values[i]);
  const span = times[times.length - 1] - times[0];
  const lowest = Math.max(minHz, MIN_TURNS / span);
  if (lowest >= maxHz) return undefined;

  const fit = createFit(times, ys);
  const still = fit.residue(0, 0);
  let rateHz = 0;
  let least = Infinity;
  for (let rate = lowest; rate <= maxHz; rate += 1 / span / RATES_PER_TURN) {
    const residue = fit.residue(rate, 1);
    if (residue < least) {
      least = residue;
      rateHz = rate;
    }
  }
  rateHz = refine((rate) => fit.residue(rate, HARMONICS), rateHz, 1 / span / RATES_PER_TURN);
  // A course that bends fits a slower one better and better.
  if (rateHz < (1 - RATE_ERROR) * lowest) return undefined;
  // With harmonics a movement of twice its rate fits as well: the slower one has to explain clearly more.
  const evenly = 1 - fit.residue(rateHz, HARMONICS) / still;
  if (!(evenly > (mayGrow ? LEAST_EVENLY : LEAST_EXPLAINED))) return undefined;
  const flat = fit.flattened(rateHz, HARMONICS);
  const turn = foldTurn(times, flat, rateHz);
  const depth = (Math.max(...turn) - Math.min(...turn)) / 2;
  if (depth < leastDepth) return undefined;
  const onset = growth(times, flat, rateHz);
  const explained = mayGrow ? Math.max(evenly, explainedByGrowing(times, flat, rateHz, onset)) : evenly;
  if (!(explained > LEAST_EXPLAINED)) return undefined;
  return {
    rateHz,
    depth: Math.max(depth, onset.depth),
    onsetSeconds: onset.seconds,
    shape: nearestMovementShape(turn),
    explained,
    turns: span * rateHz,
  };
}

/** Fewer values do not tell a sine from a course. */
const LEAST_POINTS = 16;

/**
 * The sine of one rate in a series of values over their slow course, as the parts of a cosine and a sine of
 * the time; undefined of too few values. NaNs are left out.
 */
export function sineOf(
  seconds: Float64Array,
  values: Float64Array,
  rateHz: number,
): { cosine: number; sine: number } | undefined {
  const points = [...seconds.keys()].filter((i) => Number.isFinite(values[i]));
  if (points.length < LEAST_POINTS) return undefined;
  const times = Float64Array.from(points, (i) => seconds[i]);
  const [a, b] = createFit(
    times,
    Float64Array.from(points, (i) => values[i]),
  ).sineAt(rateHz);
  const begins = 2 * Math.PI * rateHz * times[0];
  return { cosine: a * Math.cos(begins) - b * Math.sin(begins), sine: a * Math.sin(begins) + b * Math.cos(begins) };
}

/** Least squares of a course and harmonics of one rate, over the same points again and again. */
function createFit(times: Float64Array, ys: Float64Array) {
  const count = times.length;
  const from = times[0];
  const span = times[count - 1] - from;
  const most = COURSE_ORDER + 1 + 2 * HARMONICS;
  const basis = Array.from({ length: most }, () => new Float64Array(count));
  for (let order = 0; order <= COURSE_ORDER; order++) {
    for (let i = 0; i < count; i++) basis[order][i] = legendre(order, (2 * (times[i] - from)) / span - 1);
  }

  // Products of the course with itself and with the values are the same at every rate.
  const courses = basis.slice(0, COURSE_ORDER + 1);
  const known = courses.map((row) => [...courses, ys].map((other) => dotProduct(row, other)));
  const squares = dotProduct(ys, ys);

  /** The coefficients, and the sum of squares that they leave. */
  function solve(rateHz: number, harmonics: number): { coefficients: Float64Array; residue: number } {
    const size = COURSE_ORDER + 1 + 2 * harmonics;
    for (let h = 1; h <= harmonics; h++) {
      const cosines = basis[COURSE_ORDER + 2 * h - 1];
      const sines = basis[COURSE_ORDER + 2 * h];
      for (let i = 0; i < count; i++) {
        const angle = 2 * Math.PI * h * rateHz * (times[i] - from);
        cosines[i] = Math.cos(angle);
        sines[i] = Math.sin(angle);
      }
    }
    const matrix = Array.from({ length: size }, () => new Float64Array(size + 1));
    for (let r = 0; r < size; r++) {
      const isCourse = r <= COURSE_ORDER;
      for (let c = 0; c <= r; c++)
        matrix[r][c] = matrix[c][r] = isCourse ? known[r][c] : dotProduct(basis[r], basis[c]);
      matrix[r][size] = isCourse ? known[r][COURSE_ORDER + 1] : dotProduct(basis[r], ys);
    }
    const products = matrix.map((row) => row[size]);
    const coefficients = solveLinear(matrix);
    return { coefficients, residue: coefficients.reduce((left, x, r) => left - x * products[r], squares) };
  }

  return {
    /** Of its sine at a rate, the parts that begin at their top and at the middle, with the first point. */
    sineAt(rateHz: number): [number, number] {
      const { coefficients } = solve(rateHz, 1);
      return [coefficients[COURSE_ORDER + 1], coefficients[COURSE_ORDER + 2]];
    },
    /** Sum of squares that is left. */
    residue: (rateHz: number, harmonics: number): number => solve(rateHz, harmonics).residue,
    /** The values without their course. */
    flattened(rateHz: number, harmonics: number): Float64Array {
      const { coefficients } = solve(rateHz, harmonics);
      return ys.map((y, i) => courses.reduce((left, row, order) => left - coefficients[order] * row[i], y));
    },
  };
}

/** The least place of a function around a first guess, by golden sections. */
function refine(of: (x: number) => number, guess: number, reach: number): number {
  const golden = (Math.sqrt(5) - 1) / 2;
  let low = guess - reach;
  let high = guess + reach;
  let a = high - golden * (high - low);
  let b = low + golden * (high - low);
  let atA = of(a);
  let atB = of(b);
  for (let i = 0; i < 24; i++) {
    if (atA < atB) {
      [high, b, atB] = [b, a, atA];
      a = high - golden * (high - low);
      atA = of(a);
    } else {
      [low, a, atA] = [a, b, atB];
      b = low + golden * (high - low);
      atB = of(b);
    }
  }
  return (low + high) / 2;
}

const TURN_PARTS = 24;

/** One turn, each part the median of all turns; parts without a value are those before them. */
export function foldTurn(times: Float64Array, values: Float64Array, rateHz: number): Float64Array {
  const parts = Array.from({ length: TURN_PARTS }, (): number[] => []);
  times.forEach((time, i) => {
    const turns = rateHz * time;
    parts[Math.floor((turns - Math.floor(turns)) * TURN_PARTS)].push(values[i]);
  });
  const turn = new Float64Array(TURN_PARTS);
  let last = median(values);
  parts.forEach((part, p) => {
    if (part.length > 0) last = median(part);
    turn[p] = last;
  });
  return turn;
}

const shapes: Record<MovementShape, (x: number) => number> = {
  sine: (x) => Math.sin(2 * Math.PI * x),
  triangle: (x) => 1 - 4 * Math.abs(x - Math.floor(x) - 0.5),
  rising: (x) => 2 * (x - Math.floor(x)) - 1,
  falling: (x) => 1 - 2 * (x - Math.floor(x)),
  square: (x) => (x - Math.floor(x) < 0.5 ? 1 : -1),
};

/** The shape that a turn is most like at any shift, by correlation. */
export function nearestMovementShape(turn: Float64Array): MovementShape {
  const middle = turn.reduce((a, b) => a + b, 0) / turn.length;
  let best: MovementShape = 'sine';
  let most = -Infinity;
  for (const [name, shape] of Object.entries(shapes) as [MovementShape, (x: number) => number][]) {
    for (let shift = 0; shift < 2 * turn.length; shift++) {
      let product = 0;
      let power = 0;
      turn.forEach((value, i) => {
        const wanted = shape((i + 0.5 + shift / 2) / turn.length);
        product += wanted * (value - middle);
        power += wanted * wanted;
      });
      const likeness = product / Math.sqrt(power);
      // A triangle differs from a sine by a little only: it has to be the better by more than chance.
      if (likeness > most * (name === 'triangle' ? 1.002 : 1)) {
        most = likeness;
        best = name;
      }
    }
  }
  return best;
}

/** Turns over which the depth is looked at. */
const GROWTH_TURNS = 1.5;

/** How a movement grows. */
interface Growth {
  /** Of its sine, that it arrives at. */
  depth: number;
  /** When it has come to half of that. */
  seconds: number;
  /** Its depth at some times, which may be none. */
  middles: number[];
  depths: number[];
}

function growth(times: Float64Array, values: Float64Array, rateHz: number): Growth {
  const reach = GROWTH_TURNS / rateHz / 2;
  const middles: number[] = [];
  const depths: number[] = [];
  for (let middle = times[0] + reach; middle <= times[times.length - 1] - reach; middle += reach / 4) {
    let cosine = 0;
    let sine = 0;
    let weight = 0;
    for (let i = 0; i < times.length; i++) {
      const x = (times[i] - middle) / reach;
      if (x < -1 || x > 1) continue;
      const w = 1 + Math.cos(Math.PI * x);
      cosine += w * values[i] * Math.cos(2 * Math.PI * rateHz * times[i]);
      sine += w * values[i] * Math.sin(2 * Math.PI * rateHz * times[i]);
      weight += w;
    }
    middles.push(middle);
    depths.push((2 * Math.hypot(cosine, sine)) / weight);
  }
  if (depths.length < 3) return { depth: 0, seconds: 0, middles, depths };
  const settled = median(depths.slice(Math.floor(depths.length / 2)));
  const arrived = depths.findIndex((depth) => depth >= settled / 2);
  // The first look reaches back to the beginning: what is there then was there from the start.
  return { depth: settled, seconds: arrived <= 0 ? 0 : middles[arrived], middles, depths };
}

/** Share of what values do that a sine of each moment’s own depth and of one phase explains. */
function explainedByGrowing(
  times: Float64Array,
  values: Float64Array,
  rateHz: number,
  { middles, depths }: Growth,
): number {
  if (middles.length < 3) return 0;
  const depthAt = (time: number) => {
    const x = Math.max(0, Math.min(middles.length - 1, (time - middles[0]) / (middles[1] - middles[0])));
    const i = Math.min(middles.length - 2, Math.floor(x));
    return depths[i] + (x - i) * (depths[i + 1] - depths[i]);
  };
  const rows = [Math.cos, Math.sin].map((wave) =>
    times.map((time) => depthAt(time) * wave(2 * Math.PI * rateHz * time)),
  );
  const [[cc, cs], [, ss]] = rows.map((row) => rows.map((other) => dotProduct(row, other)));
  const [c, s] = rows.map((row) => dotProduct(row, values));
  const explained = (ss * c * c - 2 * cs * c * s + cc * s * s) / (cc * ss - cs * cs || 1);
  return explained / (dotProduct(values, values) || 1);
}
