import { nelderMead } from '../../dsp/nelderMead';
import { lowpassAttenuationDb } from '../spectra/filterTrack';
import { mean } from '../statistics';
import {
  type FoldedTurn,
  type Path,
  SCAN_STRIDE,
  SHIFTS,
  againstRows,
  combDb,
  holdAgainst,
  partsOf,
  pathOf,
  roundAt,
} from './foldedTurn';

/** A path on a log scale of frequency, and what stands at its place. */
interface LogPath extends Path {
  cycles: number;
  response: Response;
  /** What the response is taken times, to come as deep as is seen. */
  strength: number;
}

const SLOPES = [12, 24] as const;
const STAGES = [2, 4, 6, 8];
/** Level of a frequency behind something that stands at another frequency, dB. */
type Response = (hz: number, atHz: number) => number;

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
/** Places of a table of responses, per octave, to scan, and to refine a way over. */
const PLACES = 48;
const FINE_PLACES = 192;

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

/** The best way of a cutoff, of one notch, of a phaser's notches. */
export const filterPath = (turn: FoldedTurn): LogPath => logPath(turn, SLOPES.map(lowpassResponse));
export const notchPath = (turn: FoldedTurn): LogPath => asDeep(logPath(turn, NOTCH_QS.map(notchResponse)));
export const phaserPath = (turn: FoldedTurn): LogPath => logPath(turn, STAGES.map(phaserResponse));

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
  const way = Array.from({ length: partsOf(turn) }, () => new Float64Array(turn.partials.length));
  const against = ([m, d, s, cycles = turn.cycles]: readonly number[]) => {
    const at = { ...turn, cycles };
    for (let part = 0; part < way.length; part++) {
      const place = (m + d * roundAt(at, part, s)) * FINE_PLACES;
      const lower = Math.floor(place);
      blend(rowAt(lower), rowAt(lower + 1), place - lower, way[part]);
    }
    return againstRows(turn, way);
  };
  const { point, cost } = nelderMead(
    (numbers) => -against(numbers).share,
    [middle, depth, shift, ...(isFree ? [turn.cycles] : [])],
    [0.15, 0.15, 0.04, ...(isFree ? [0.1] : [])],
    isFree ? 200 : 120,
  );
  const { middle: octaves, ...path } = pathOf(point, -cost);
  const { scale } = against(point);
  return { ...path, middle: 2 ** octaves, cycles: point[3] ?? turn.cycles, response, strength: scale };
}

function blend(a: Float64Array, b: Float64Array, part: number, out: Float64Array): void {
  for (let n = 0; n < out.length; n++) out[n] = a[n] + part * (b[n] - a[n]);
}

/** Rows of responses at places on the fine scale, each made when it is first asked for. */
function rowsOf(turn: FoldedTurn, response: Response): (place: number) => Float64Array {
  const made = new Map<number, Float64Array>();
  return (place) => {
    let row = made.get(place);
    if (!row) {
      const atHz = 2 ** (place / FINE_PLACES);
      row = new Float64Array(turn.partials.length);
      for (let n = 0; n < row.length; n++) row[n] = response(turn.partials[n] * turn.f0Hz, atHz);
      made.set(place, holdAgainst(turn, row));
    }
    return row;
  };
}

const scanLogPaths = (turn: FoldedTurn, response: Response): Scanned => scanOf(turn, response)(turn.cycles);

/** Looks through all paths of some cycles; what does not hang on them is made once. */
function scanOf(turn: FoldedTurn, response: Response): (cycles: number) => Scanned {
  const rowAt = rowsOf(turn, response);
  const first = Math.round(LOW_OCTAVES * PLACES);
  const table = Array.from({ length: Math.ceil((HIGH_OCTAVES - LOW_OCTAVES) * PLACES) + 1 }, (_, k) =>
    rowAt((first + k) * (FINE_PLACES / PLACES)),
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
            const place = Math.round((middle + depth * way[i]) * PLACES) - first;
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
  const count = levelsDb.length;
  const scanned = levelsDb.map((turn) => turn.filter((_, part) => part % SCAN_STRIDE === 0));
  const whole = scanned.reduce((sum, turn) => sum + turn.reduce((a, db) => a + db * db, 0), 0);
  const parts = scanned[0].length;
  const middles = scanned.map(mean);
  const rows = new Float64Array(table.length * count);
  const squares = new Float64Array(table.length);
  // One place after the other, of each its product with every part of the turn.
  const products = new Float64Array(table.length * parts);
  table.forEach((row, place) => {
    rows.set(row, place * count);
    for (let n = 0; n < count; n++) {
      squares[place] += row[n] * row[n];
      for (let i = 0; i < parts; i++) products[place * parts + i] += row[n] * (scanned[n][i] - middles[n]);
    }
  });
  const sums = new Float64Array(count);
  return (places) => {
    let product = 0;
    for (let i = 0; i < parts; i++) product += products[places[i] * parts + i];
    if (product <= 0 || whole === 0) return 0;
    sums.fill(0);
    let model = 0;
    for (let i = 0; i < parts; i++) {
      model += squares[places[i]];
      const row = places[i] * count;
      for (let n = 0; n < count; n++) sums[n] += rows[row + n];
    }
    for (let n = 0; n < count; n++) model -= (sums[n] * sums[n]) / parts;
    return model > 1e-9 ? (product * product) / model / whole : 0;
  };
}
