import { solveLinear } from '../../dsp/solveLinear';

/** A sine of a turn or two in a series. */
export interface SlowTurn {
  rateHz: number;
  /** To either side, and what it goes round, in the unit of the values. */
  depth: number;
  middle: number;
  /** Where the sine stands at time 0, cycles. */
  startCycles: number;
  /** Share of all that the values do, 0..1. */
  explained: number;
}

/** Fewer values do not tell one. */
const LEAST_POINTS = 12;
/** Turns that are tried, in steps. What falls or rises once is best met by the fewest. */
const FEWEST_TURNS = 0.6;
const MOST_TURNS = 3.4;
const STEP_TURNS = 0.025;
/** From so many turns on both ends of the way were seen. */
const LEAST_TURNS = 0.9;

/**
 * A movement of a turn or two, as a sine by least squares at every rate: too few to see it come round, but
 * what falls and rises again as a sine does is an LFO rather than an envelope. Undefined where less than one
 * turn does best. NaNs are left out.
 */
export function findSlowTurn(seconds: Float64Array, values: Float64Array): SlowTurn | undefined {
  const points = [...seconds.keys()].filter((i) => Number.isFinite(values[i]));
  if (points.length < LEAST_POINTS) return undefined;
  const times = points.map((i) => seconds[i]);
  const ys = points.map((i) => values[i]);
  const span = times[times.length - 1] - times[0];
  const middle = ys.reduce((sum, y) => sum + y, 0) / ys.length;
  const whole = ys.reduce((sum, y) => sum + (y - middle) ** 2, 0);
  if (!(whole > 0)) return undefined;
  let best: (SlowTurn & { turns: number }) | undefined;
  for (let turns = FEWEST_TURNS; turns <= MOST_TURNS; turns += STEP_TURNS) {
    const sine = sineAt(turns / span, times, ys);
    const explained = 1 - sine.left / whole;
    if (!best || explained > best.explained) best = { ...sine, explained, turns };
  }
  return best && best.turns >= LEAST_TURNS ? best : undefined;
}

function sineAt(rateHz: number, times: readonly number[], ys: readonly number[]) {
  const rows = times.map((time) => [1, Math.cos(2 * Math.PI * rateHz * time), Math.sin(2 * Math.PI * rateHz * time)]);
  const matrix = [0, 1, 2].map((r) =>
    Float64Array.from([0, 1, 2, 3], (c) => rows.reduce((sum, row, i) => sum + row[r] * (c < 3 ? row[c] : ys[i]), 0)),
  );
  const [middle, cosine, sine] = solveLinear(matrix);
  const left = rows.reduce((sum, [, c, s], i) => sum + (ys[i] - middle - cosine * c - sine * s) ** 2, 0);
  const startCycles = Math.atan2(cosine, sine) / (2 * Math.PI);
  return { rateHz, depth: Math.hypot(cosine, sine), middle, startCycles, left };
}
