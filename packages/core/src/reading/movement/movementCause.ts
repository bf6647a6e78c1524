import { nelderMead } from '../../dsp/nelderMead';
import { lowpassAttenuationDb } from '../spectra/filterTrack';
import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import { correlation, mean, median, withoutCourse } from '../statistics';

/** How the levels of the partials move within one turn of a movement. */
export interface FoldedTurn {
  f0Hz: number;
  /** Numbers of the partials that are loud enough, from 1. */
  partials: number[];
  /** Per partial, dB around its own mean at each part of the turn. */
  levelsDb: Float64Array[];
}

/** What can move the partials of a tone against one another. */
export type PartialMover = 'common' | 'filter' | 'phaser' | 'chorus';

/** A way to and fro, and how well it explains the movement of the partials. */
export interface Path {
  /** Share of the partials' movement that it explains, 0..1. */
  explained: number;
  /** From end to end: octaves of a cutoff or a corner, seconds of a delay; 0 for what is common. */
  width: number;
  /** What it goes round: Hz or seconds; 0 for what is common. */
  middle: number;
  /** Where its sine stands at the start of the signal, cycles. */
  startCycles: number;
}

export interface MoverFit extends Path {
  mover: PartialMover;
  /** The share that the next best explains. */
  next: number;
}

const PARTS = 48;
const MOST_PARTIALS = 24;
/** Higher partials move too much within a part of a turn. */
const HIGHEST_HZ = 4000;
const LEAST_DB = -50;
/** Decays are no movements: the slow course of a level is a polynomial of this order. */
const COURSE_ORDER = 3;
/** Fewer do not tell causes apart. */
export const MIN_PARTIALS = 4;

/** The partials whose levels are followed. */
export const lookedAt = <T>(partials: readonly T[], f0Hz: number): T[] =>
  partials.slice(0, Math.max(MIN_PARTIALS, Math.min(MOST_PARTIALS, Math.floor(HIGHEST_HZ / f0Hz))));

/** Folds the levels of the partials over one turn at a rate; undefined with too few of them. */
export function foldPartials(
  { f0Hz, seconds, partials }: PartialEnvelopes,
  rateHz: number,
  fromSeconds: number,
  toSeconds: number,
): FoldedTurn | undefined {
  const inside = [...seconds.keys()].filter((i) => seconds[i] >= fromSeconds && seconds[i] <= toSeconds);
  const powers = lookedAt(partials, f0Hz).map(powersOf);
  const means = powers.map((power) => mean(inside.map((i) => power[i])));
  const strongest = Math.max(...means);
  const loud = [...means.keys()].filter((n) => 10 * Math.log10(means[n] / strongest + 1e-12) > LEAST_DB);
  if (loud.length < MIN_PARTIALS) return undefined;
  const times = inside.map((i) => seconds[i]);
  const levelsDb = loud.map((n) => {
    const parts = Array.from({ length: PARTS }, (): number[] => []);
    const levels = inside.map((i) => 10 * Math.log10(powers[n][i] / strongest + 1e-9));
    withoutCourse(times, levels, COURSE_ORDER).forEach((level, i) => {
      const turns = rateHz * times[i];
      parts[Math.floor((turns - Math.floor(turns)) * PARTS)].push(level);
    });
    const turn = Float64Array.from(parts, (part) => (part.length > 0 ? median(part) : NaN));
    const middle = mean(turn.filter(Number.isFinite));
    return turn.map((db) => (Number.isFinite(db) ? db - middle : 0));
  });
  return { f0Hz, partials: loud.map((n) => n + 1), levelsDb };
}

/** Which of the movers explains a turn best, by fits of each with few parameters (our own method). */
export function findMover(turn: FoldedTurn, comb = combPath(turn)): MoverFit {
  const paths: Record<PartialMover, Path> = {
    common: { explained: commonShare(turn), width: 0, middle: 0, startCycles: 0 },
    filter: logPath(turn, SLOPES.map(lowpassResponse)),
    phaser: logPath(turn, STAGES.map(phaserResponse)),
    chorus: comb,
  };
  const ranked = (Object.keys(paths) as PartialMover[]).sort((a, b) => paths[b].explained - paths[a].explained);
  const [mover, next] = ranked;
  return { mover, ...paths[mover], next: paths[next].explained };
}

/** What all partials do together, against all that they do. */
function commonShare({ levelsDb }: FoldedTurn): number {
  const common = levelsDb[0].map((_, part) => median(levelsDb.map((turn) => turn[part])));
  let left = 0;
  let whole = 0;
  for (const turn of levelsDb) {
    turn.forEach((db, part) => {
      left += (db - common[part]) ** 2;
      whole += db * db;
    });
  }
  return whole > 0 ? Math.max(0, 1 - left / whole) : 0;
}

const SLOPES = [12, 24] as const;
const STAGES = [2, 4, 6, 8];
/** As deep as notches come out in levels that are looked at through windows. */
const NOTCH_MIX = 0.85;

const combDb = (angle: number) => 10 * Math.log10(1 + NOTCH_MIX ** 2 + 2 * NOTCH_MIX * Math.cos(angle));

/** Level of a frequency behind something that stands at another frequency, dB. */
type Response = (hz: number, atHz: number) => number;

const lowpassResponse =
  (slope: 12 | 24): Response =>
  (hz, cutoffHz) =>
    -lowpassAttenuationDb(slope, hz / cutoffHz);

const phaserResponse =
  (stages: number): Response =>
  (hz, cornerHz) =>
    combDb(2 * stages * Math.atan(hz / cornerHz));

const LOW_OCTAVES = Math.log2(60);
const HIGH_OCTAVES = Math.log2(16000);
const MIDDLES = 28;
const DEPTHS_OCTAVES = [0.1, 0.25, 0.5, 0.8, 1.2, 1.7];
const SHIFTS = 16;
/** Every so manieth part of a turn is enough to scan paths. */
const SCAN_STRIDE = 2;
/** Places of a table of responses, per octave. */
const PLACES = 48;

interface LogPath {
  explained: number;
  response: Response;
  middle: number;
  depth: number;
  shift: number;
}

/** The best of all round paths, on a log scale, of a frequency that moves one of several responses. */
function logPath(turn: FoldedTurn, responses: readonly Response[]): Path {
  const { response, middle, depth, shift } = responses
    .map((one) => scanLogPaths(turn, one))
    .reduce((a, b) => (b.explained > a.explained ? b : a));
  const rowAt = rowsOf(turn, response);
  const { point, cost } = nelderMead(
    ([m, d, s]) => {
      const rows = Array.from({ length: PARTS }, (_, part) => rowAt(m + d * roundAt(part, s)));
      return -shareOf(turn, rows);
    },
    [middle, depth, shift],
    [0.15, 0.15, 0.04],
    120,
  );
  const { middle: octaves, ...path } = pathOf(point, -cost);
  return { ...path, middle: 2 ** octaves };
}

/** A path of a middle, a depth (backwards where it is negative) and where it begins. */
function pathOf([middle, depth, shift]: readonly number[], explained: number): Path {
  const start = depth < 0 ? shift + 0.5 : shift;
  return { explained, width: 2 * Math.abs(depth), middle, startCycles: start - Math.floor(start) };
}

const rowsOf = (turn: FoldedTurn, response: Response) => (octaves: number) =>
  Float64Array.from(turn.partials, (n) => response(n * turn.f0Hz, 2 ** octaves));

function scanLogPaths(turn: FoldedTurn, response: Response): LogPath {
  const rowAt = rowsOf(turn, response);
  const table = Array.from({ length: Math.ceil((HIGH_OCTAVES - LOW_OCTAVES) * PLACES) + 1 }, (_, k) =>
    rowAt(LOW_OCTAVES + k / PLACES),
  );
  const share = shareOfTable(turn, table);
  const places = new Int32Array(PARTS / SCAN_STRIDE);
  let found: LogPath = { explained: 0, response, middle: LOW_OCTAVES, depth: 0, shift: 0 };
  for (let m = 0; m < MIDDLES; m++) {
    const middle = LOW_OCTAVES + ((HIGH_OCTAVES - LOW_OCTAVES) * (m + 0.5)) / MIDDLES;
    for (const depth of DEPTHS_OCTAVES) {
      for (let shift = 0; shift < 1; shift += 1 / SHIFTS) {
        for (let i = 0; i < places.length; i++) {
          const place = Math.round((middle + depth * roundAt(i * SCAN_STRIDE, shift) - LOW_OCTAVES) * PLACES);
          places[i] = Math.max(0, Math.min(table.length - 1, place));
        }
        const explained = share(places);
        if (explained > found.explained) found = { explained, response, middle, depth, shift };
      }
    }
  }
  return found;
}

/** {@link shareOf} for rows that are places in a table, whose sums over the partials are made once. */
function shareOfTable({ levelsDb }: FoldedTurn, table: readonly Float64Array[]): (places: Int32Array) => number {
  const scanned = levelsDb.map((turn) => turn.filter((_, part) => part % SCAN_STRIDE === 0));
  const whole = scanned.reduce((sum, turn) => sum + turn.reduce((a, db) => a + db * db, 0), 0);
  const around = scanned.map((turn) => {
    const middle = mean(turn);
    return turn.map((db) => db - middle);
  });
  const products = Array.from(scanned[0], (_, i) =>
    Float64Array.from(table, (row) => row.reduce((sum, db, n) => sum + db * around[n][i], 0)),
  );
  const squares = Float64Array.from(table, (row) => row.reduce((sum, db) => sum + db * db, 0));
  const sums = new Float64Array(levelsDb.length);
  return (places) => {
    let product = 0;
    for (let i = 0; i < places.length; i++) product += products[i][places[i]];
    if (product <= 0 || whole === 0) return 0;
    sums.fill(0);
    let model = 0;
    for (let i = 0; i < places.length; i++) {
      model += squares[places[i]];
      const row = table[places[i]];
      for (let n = 0; n < sums.length; n++) sums[n] += row[n];
    }
    for (let n = 0; n < sums.length; n++) model -= (sums[n] * sums[n]) / places.length;
    return model > 1e-9 ? (product * product) / model / whole : 0;
  };
}

const roundAt = (part: number, shift: number) => Math.sin(2 * Math.PI * ((part + 0.5) / PARTS + shift));

/**
 * Share of the squares of a turn that rows of a model, one a part of it, explain once their means are off and
 * they are scaled.
 */
function shareOf({ levelsDb }: FoldedTurn, rows: readonly Float64Array[]): number {
  let product = 0;
  let model = 0;
  let whole = 0;
  for (let n = 0; n < levelsDb.length; n++) {
    let middle = 0;
    for (let part = 0; part < PARTS; part++) middle += rows[part][n] / PARTS;
    const turn = levelsDb[n];
    for (let part = 0; part < PARTS; part++) {
      const m = rows[part][n] - middle;
      product += m * turn[part];
      model += m * m;
      whole += turn[part] * turn[part];
    }
  }
  if (product <= 0 || model === 0 || whole === 0) return 0;
  return (product * product) / model / whole;
}

const MIN_DELAY_SECONDS = 0.0003;
const MAX_DELAY_SECONDS = 0.035;
/** Steps of a delay, as a share of the period of the highest partial. */
const DELAY_STEP = 0.2;
const MOST_DEPTH_SECONDS = 0.008;
const DEPTH_GROWTH = 0.06;

/** The best of all round paths of a delay, whose comb moves over the partials. */
export function combPath(turn: FoldedTurn): Path {
  const { f0Hz, partials, levelsDb } = turn;
  const step = DELAY_STEP / (partials[partials.length - 1] * f0Hz);
  const delays = Math.ceil((MAX_DELAY_SECONDS - MIN_DELAY_SECONDS) / step);
  const cosines = Array.from({ length: delays }, (_, k) =>
    Float64Array.from(partials, (n) => Math.cos(2 * Math.PI * n * f0Hz * (MIN_DELAY_SECONDS + k * step))),
  );
  // How well each delay explains each part of the turn by itself; what a path explains is then a sum over a
  // table.
  const fit = Array.from({ length: PARTS }, (_, part) => {
    const column = levelsDb.map((row) => row[part]);
    return Float64Array.from(cosines, (row) => correlation(row, column));
  });
  const depths = Math.floor(MOST_DEPTH_SECONDS / step);
  let found = { score: -Infinity, middle: 0, depth: 0, shift: 0 };
  const offsets = new Int32Array(PARTS);
  for (let depth = 1; depth < depths; depth += Math.max(1, Math.round(DEPTH_GROWTH * depth))) {
    for (let shift = 0; shift < 1; shift += 1 / SHIFTS) {
      for (let part = 0; part < PARTS; part++) offsets[part] = Math.round(depth * roundAt(part, shift));
      for (let middle = depth; middle < delays - depth; middle++) {
        let score = 0;
        for (let part = 0; part < PARTS; part += SCAN_STRIDE) score += fit[part][middle + offsets[part]];
        if (score > found.score) found = { score, middle, depth, shift };
      }
    }
  }
  const explainedBy = (middle: number, depth: number, shift: number) =>
    shareOf(
      turn,
      Array.from({ length: PARTS }, (_, part) => {
        const delay = MIN_DELAY_SECONDS + (middle + depth * roundAt(part, shift)) * step;
        return Float64Array.from(partials, (n) => combDb(2 * Math.PI * n * f0Hz * delay));
      }),
    );
  const { point, cost } = nelderMead(
    ([middle, depth, shift]) => -explainedBy(middle, depth, shift),
    [found.middle, found.depth, found.shift],
    [0.5, 0.5, 0.03],
    120,
  );
  const path = pathOf(point, -cost);
  return usual({ ...path, width: path.width * step, middle: MIN_DELAY_SECONDS + path.middle * step }, 1 / f0Hz);
}

/** In the middle of what choruses have (common practice: 10 to 25 ms). */
const USUAL_SECONDS = 0.015;

/**
 * Partials of one pitch say a delay only up to its period, and not which way it goes: of all that say the
 * same, the one that is nearest to a chorus's usual delay.
 */
function usual(path: Path, period: number): Path {
  const back = path.startCycles < 0.5 ? path.startCycles + 0.5 : path.startCycles - 0.5;
  const alike = Array.from({ length: Math.ceil(MAX_DELAY_SECONDS / period) + 2 }, (_, k) => [
    { ...path, middle: path.middle + (k - 1) * period },
    { ...path, middle: k * period - path.middle, startCycles: back },
  ])
    .flat()
    .filter(({ middle, width }) => middle - width / 2 >= MIN_DELAY_SECONDS && middle + width / 2 <= MAX_DELAY_SECONDS);
  const distance = ({ middle }: Path) => Math.abs(Math.log(middle / USUAL_SECONDS));
  return alike.reduce((a, b) => (distance(b) < distance(a) ? b : a), path);
}

/** The share that a delay explains which grows by a period of the tone every turn: two voices that beat. */
export function growingDelayShare(turn: FoldedTurn): number {
  let most = 0;
  for (let shift = 0; shift < 1; shift += 0.5 / PARTS) {
    const rows = Array.from({ length: PARTS }, (_, part) =>
      Float64Array.from(turn.partials, (n) => combDb(2 * Math.PI * n * ((part + 0.5) / PARTS + shift))),
    );
    most = Math.max(most, shareOf(turn, rows));
  }
  return most;
}
