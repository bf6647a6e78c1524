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
  /** Turns that a movement makes over the parts: one where it was folded. */
  cycles: number;
  /** Whether what all partials do alike was taken off. */
  isApart: boolean;
}

/** What can move the partials of a tone against one another. */
export type PartialMover = 'common' | 'lows' | 'filter' | 'notch' | 'phaser' | 'chorus';

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

/** A path on a log scale of frequency, and what stands at its place. */
interface LogPath extends Path {
  cycles: number;
  response: Response;
  /** What the response is taken times, to come as deep as is seen. */
  strength: number;
}

export interface MoverFit extends Path {
  mover: PartialMover;
  /** The share that the next best explains. */
  next: number;
}

export const PARTS = 48;
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
  const { loud, strongest } = loudOf(powers, inside);
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
  return { f0Hz, partials: loud.map((n) => n + 1), levelsDb, cycles: 1, isApart: false };
}

/** Which partials are loud enough to be followed, and the power of the strongest. */
export function loudOf(powers: readonly Float64Array[], inside: readonly number[]) {
  const means = powers.map((power) => mean(inside.map((i) => power[i])));
  const strongest = Math.max(...means);
  const loud = [...means.keys()].filter((n) => 10 * Math.log10(means[n] / strongest + 1e-12) > LEAST_DB);
  return { loud, strongest };
}

/** Which of the movers explains a turn best, by fits of each with few parameters (our own method). */
export function findMover(turn: FoldedTurn, comb = combPath(turn)): MoverFit {
  const common = commonShare(turn);
  const paths: Record<PartialMover, Path> = {
    common: { explained: common, width: 0, middle: 0, startCycles: 0 },
    lows: lowsShare(turn, common + LOWS_LEAD),
    filter: logPath(turn, SLOPES.map(lowpassResponse)),
    notch: asDeep(logPath(turn, NOTCH_QS.map(notchResponse))),
    phaser: logPath(turn, STAGES.map(phaserResponse)),
    chorus: comb,
  };
  const ranked = (Object.keys(paths) as PartialMover[]).sort((a, b) => paths[b].explained - paths[a].explained);
  const [mover, next] = ranked;
  return { mover, ...paths[mover], next: paths[next].explained };
}

/** What a cutoff, or a comb, explains of a turn. */
export const explainedOtherwise = (turn: FoldedTurn): number =>
  Math.max(logPath(turn, SLOPES.map(lowpassResponse)).explained, combPath(turn).explained);

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

/** Under which frequencies lows may move by themselves: a twelfth of an octave further each. */
const LOWS_FROM_HZ = 80;
const LOWS_PLACES = 48;
/** All partials are more easily meant than some of them. */
const LOWS_LEAD = 0.05;

/** How much of a movement of what lies under a frequency is in each partial: a split of 24 dB an octave. */
const lowsWeights = ({ partials, f0Hz }: FoldedTurn, belowHz: number): Float64Array =>
  Float64Array.from(partials, (n) => 1 / (1 + ((n * f0Hz) / belowHz) ** 4));

const ALL_LOW = 0.8;

/** The turn of those partials alone that lie well under a frequency, at least of the first. */
export function lowsOf(turn: FoldedTurn, belowHz: number): FoldedTurn {
  const count = Math.max(1, lowsWeights(turn, belowHz).filter((weight) => weight > ALL_LOW).length);
  return { ...turn, partials: turn.partials.slice(0, count), levelsDb: turn.levelsDb.slice(0, count) };
}

/** What partials under a frequency do while those over it stand still; nothing where it says too little. */
function lowsShare(turn: FoldedTurn, least: number): Path {
  const highestHz = (turn.f0Hz * turn.partials[turn.partials.length - 1]) / 2;
  let best: Path = { explained: 0, width: 0, middle: 0, startCycles: 0 };
  for (let place = 0; place < LOWS_PLACES; place++) {
    const middle = LOWS_FROM_HZ * 2 ** (place / 12);
    if (middle > highestHz) break;
    const weights = lowsWeights(turn, middle);
    const squares = weights.reduce((sum, weight) => sum + weight * weight, 0);
    const rows = Array.from(turn.levelsDb[0], (_, part) => {
      const common = turn.levelsDb.reduce((sum, line, n) => sum + weights[n] * line[part], 0) / squares;
      return weights.map((weight) => weight * common);
    });
    const explained = shareOf(turn, rows);
    if (explained > Math.max(least, best.explained)) best = { ...best, explained, middle };
  }
  return best;
}

const SLOPES = [12, 24] as const;
const STAGES = [2, 4, 6, 8];
/** As deep as combs come out in levels that are looked at through windows. */
const NOTCH_MIX = 0.85;

const combDb = (angle: number) => 10 * Math.log10(1 + NOTCH_MIX ** 2 + 2 * NOTCH_MIX * Math.cos(angle));

/** Level of a frequency behind something that stands at another frequency, dB. */
export type Response = (hz: number, atHz: number) => number;

const lowpassResponse =
  (slope: 12 | 24): Response =>
  (hz, cutoffHz) =>
    -lowpassAttenuationDb(slope, hz / cutoffHz);

const NOTCH_QS = [0.6, 1, 1.7];
/** As deep as notches come out in levels that are looked at through windows. */
const NOTCH_FLOOR = 10 ** -2.5;

const notchResponse =
  (q: number): Response =>
  (hz, atHz) => {
    const x = hz / atHz;
    const through = (1 - x * x) ** 2;
    return 10 * Math.log10(through / (through + (x / q) ** 2) + NOTCH_FLOOR);
  };

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

interface Scanned {
  explained: number;
  response: Response;
  middle: number;
  depth: number;
  shift: number;
}

/** How many times as deep as notches are they may come out. */
const LEAST_STRENGTH = 0.4;
const MOST_STRENGTH = 1.8;

/** A way along which nothing is as deep as a notch, or all is deeper, is none of notches. */
const asDeep = (path: LogPath): LogPath =>
  path.strength > LEAST_STRENGTH && path.strength < MOST_STRENGTH ? path : { ...path, explained: 0 };

/** How much notches say of a turn, by coarse paths of two kinds of them, for each number of cycles. */
export function scanNotches(turn: FoldedTurn, cycles: readonly number[]): number[] {
  const scans = [notchResponse(1), phaserResponse(4)].map((one) => scanOf(turn, one));
  return cycles.map((count) => Math.max(...scans.map((scan) => scan(count).explained)));
}

/** The best way of notches, one or a phaser's, through a turn whose cycles are not known to the last part. */
export const followNotches = (turn: FoldedTurn): { notch: LogPath; phaser: LogPath } => ({
  notch: asDeep(freePath(turn, NOTCH_QS.map(notchResponse))),
  phaser: asDeep(freePath(turn, STAGES.map(phaserResponse))),
});

const nearest = <T extends { explained: number }>(found: readonly T[]): T =>
  found.reduce((a, b) => (b.explained > a.explained ? b : a));

/** The best of all round paths, on a log scale, of a frequency that moves one of several responses. */
const logPath = (turn: FoldedTurn, responses: readonly Response[]): LogPath =>
  refinedPath(turn, nearest(responses.map((one) => scanLogPaths(turn, one))), false);

/** The same with cycles that are not known to the last part, for each response by itself. */
const freePath = (turn: FoldedTurn, responses: readonly Response[]): LogPath =>
  nearest(responses.map((one) => refinedPath(turn, scanLogPaths(turn, one), true)));

function refinedPath(turn: FoldedTurn, { response, middle, depth, shift }: Scanned, isFree: boolean): LogPath {
  const rowAt = rowsOf(turn, response);
  const wayOf = (at: FoldedTurn, [m, d, s]: readonly number[]) =>
    Array.from({ length: partsOf(turn) }, (_, part) => rowAt(m + d * roundAt(at, part, s)));
  const { point, cost } = nelderMead(
    (numbers) => -shareOf(turn, wayOf({ ...turn, cycles: numbers[3] ?? turn.cycles }, numbers)),
    [middle, depth, shift, ...(isFree ? [turn.cycles] : [])],
    [0.15, 0.15, 0.04, ...(isFree ? [0.1] : [])],
    isFree ? 200 : 120,
  );
  const { middle: octaves, ...path } = pathOf(point, -cost);
  const cycles = point[3] ?? turn.cycles;
  const { scale } = againstRows(turn, wayOf({ ...turn, cycles }, point));
  return { ...path, middle: 2 ** octaves, cycles, response, strength: scale };
}

/** A path of a middle, a depth (backwards where it is negative) and where it begins. */
function pathOf([middle, depth, shift]: readonly number[], explained: number): Path {
  const start = depth < 0 ? shift + 0.5 : shift;
  return { explained, width: 2 * Math.abs(depth), middle, startCycles: start - Math.floor(start) };
}

const rowsOf = (turn: FoldedTurn, response: Response) => (octaves: number) =>
  heldAgainst(
    turn,
    Float64Array.from(turn.partials, (n) => response(n * turn.f0Hz, 2 ** octaves)),
  );

/** A row of a model as a turn shows it. */
function heldAgainst({ isApart }: FoldedTurn, row: Float64Array): Float64Array {
  const common = isApart ? mean(row) : 0;
  return row.map((db) => db - common);
}

const scanLogPaths = (turn: FoldedTurn, response: Response): Scanned => scanOf(turn, response)(turn.cycles);

/** Looks through all paths of some cycles; what does not hang on them is made once. */
function scanOf(turn: FoldedTurn, response: Response): (cycles: number) => Scanned {
  const rowAt = rowsOf(turn, response);
  const table = Array.from({ length: Math.ceil((HIGH_OCTAVES - LOW_OCTAVES) * PLACES) + 1 }, (_, k) =>
    rowAt(LOW_OCTAVES + k / PLACES),
  );
  const share = shareOfTable(turn, table);
  const places = new Int32Array(partsOf(turn) / SCAN_STRIDE);
  return (cycles) => {
    const at = { ...turn, cycles };
    const ways = Array.from({ length: SHIFTS }, (_, s) =>
      Float64Array.from(places, (_place, i) => roundAt(at, i * SCAN_STRIDE, s / SHIFTS)),
    );
    let found: Scanned = { explained: 0, response, middle: LOW_OCTAVES, depth: 0, shift: 0 };
    for (let m = 0; m < MIDDLES; m++) {
      const middle = LOW_OCTAVES + ((HIGH_OCTAVES - LOW_OCTAVES) * (m + 0.5)) / MIDDLES;
      for (const depth of DEPTHS_OCTAVES) {
        for (let s = 0; s < SHIFTS; s++) {
          const way = ways[s];
          for (let i = 0; i < places.length; i++) {
            const place = Math.round((middle + depth * way[i] - LOW_OCTAVES) * PLACES);
            places[i] = Math.max(0, Math.min(table.length - 1, place));
          }
          const explained = share(places);
          if (explained > found.explained) found = { explained, response, middle, depth, shift: s / SHIFTS };
        }
      }
    }
    return found;
  };
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

const partsOf = ({ levelsDb: [first] }: FoldedTurn) => first.length;

const roundAt = (turn: FoldedTurn, part: number, shift: number) =>
  Math.sin(2 * Math.PI * ((turn.cycles * (part + 0.5)) / partsOf(turn) + shift));

const shareOf = (turn: FoldedTurn, rows: readonly Float64Array[]): number => againstRows(turn, rows).share;

/**
 * Share of the squares of a turn that rows of a model, one a part of it, explain once their means are off and
 * they are scaled, and by how much they are.
 */
function againstRows({ levelsDb }: FoldedTurn, rows: readonly Float64Array[]): { share: number; scale: number } {
  let product = 0;
  let model = 0;
  let whole = 0;
  for (let n = 0; n < levelsDb.length; n++) {
    let middle = 0;
    const turn = levelsDb[n];
    for (let part = 0; part < turn.length; part++) middle += rows[part][n] / turn.length;
    for (let part = 0; part < turn.length; part++) {
      const m = rows[part][n] - middle;
      product += m * turn[part];
      model += m * m;
      whole += turn[part] * turn[part];
    }
  }
  if (product <= 0 || model === 0 || whole === 0) return { share: 0, scale: 0 };
  return { share: (product * product) / model / whole, scale: product / model };
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
  const parts = partsOf(turn);
  const step = DELAY_STEP / (partials[partials.length - 1] * f0Hz);
  const delays = Math.ceil((MAX_DELAY_SECONDS - MIN_DELAY_SECONDS) / step);
  const cosines = Array.from({ length: delays }, (_, k) =>
    Float64Array.from(partials, (n) => Math.cos(2 * Math.PI * n * f0Hz * (MIN_DELAY_SECONDS + k * step))),
  );
  // How well each delay explains each part of the turn by itself; what a path explains is then a sum over a
  // table.
  const fit = Array.from({ length: parts }, (_, part) => {
    const column = levelsDb.map((row) => row[part]);
    return Float64Array.from(cosines, (row) => correlation(row, column));
  });
  const depths = Math.floor(MOST_DEPTH_SECONDS / step);
  let found = { score: -Infinity, middle: 0, depth: 0, shift: 0 };
  const offsets = new Int32Array(parts);
  for (let depth = 1; depth < depths; depth += Math.max(1, Math.round(DEPTH_GROWTH * depth))) {
    for (let shift = 0; shift < 1; shift += 1 / SHIFTS) {
      for (let part = 0; part < parts; part++) offsets[part] = Math.round(depth * roundAt(turn, part, shift));
      for (let middle = depth; middle < delays - depth; middle++) {
        let score = 0;
        for (let part = 0; part < parts; part += SCAN_STRIDE) score += fit[part][middle + offsets[part]];
        if (score > found.score) found = { score, middle, depth, shift };
      }
    }
  }
  const explainedBy = (middle: number, depth: number, shift: number) =>
    shareOf(
      turn,
      Array.from({ length: parts }, (_, part) => {
        const delay = MIN_DELAY_SECONDS + (middle + depth * roundAt(turn, part, shift)) * step;
        return heldAgainst(
          turn,
          Float64Array.from(partials, (n) => combDb(2 * Math.PI * n * f0Hz * delay)),
        );
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
  const parts = partsOf(turn);
  for (let shift = 0; shift < 1; shift += 0.5 / parts) {
    const rows = Array.from({ length: parts }, (_, part) =>
      Float64Array.from(turn.partials, (n) => combDb(2 * Math.PI * n * ((part + 0.5) / parts + shift))),
    );
    most = Math.max(most, shareOf(turn, rows));
  }
  return most;
}
