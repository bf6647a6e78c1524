import type { Line, Lines } from '../spectra/lines';
import { median } from '../statistics';

/** A harmonic tone multiplied by a sine. */
export interface RingPair {
  /** Of the tone that was multiplied, as a musician would name it. */
  f0Hz: number;
  /** Of the sine. */
  rateHz: number;
  /**
   * Levels of the sidebands against the partials that they stand beside, dB; null where no partials are left.
   */
  sidebandsDb: number | null;
  /** Of the tone's partials, from their sidebands; dB against the strongest. */
  levelsDb: number[];
  /** Share of the lines that are explained, by how far each stands out. */
  explained: number;
}

const LEAST_RATE_HZ = 15;
const LEAST_F0_HZ = 25;
/** Pairs of lines that are tried, among so many of the strongest. */
const TRIED_LINES = 14;
const HIGHEST_PARTIAL = 24;
/** Each is known to this share of the resolution. */
const TOLERANCE = 0.25;
const LEAST_EXPLAINED = 0.9;
/** Both sidebands of a partial are as loud. */
const UNEVEN_DB = 2.5;
/** Sidebands of a whole tone: of one partial alone two lines are a chord. */
const LEAST_PAIRS = 2;
const FLOOR_DB = -40;
/** The strongest line of all belongs to a pair, or nearly. */
const LEAST_LOUDEST_DB = -2;
/** A partial that is so much louder than its softest sidebands could be has none. */
const LONE_DB = 4;
/** Partials this far under their sidebands are not there. */
const MISSING_DB = -14;

/**
 * A fundamental and a rate whose sums and differences are the lines of a tone: sidebands in pairs that are as
 * loud as one another at the same distance from every partial, with the partials between them (amplitude
 * modulation) or without (ring modulation). Undefined where no pair explains the lines, or where a plain
 * series of partials does as well.
 */
export function findRingPair({ lines, resolutionHz }: Lines): RingPair | undefined {
  const loud = lines.filter(({ levelDb }) => levelDb > FLOOR_DB);
  const strongest = [...loud].sort((a, b) => b.levelDb - a.levelDb).slice(0, TRIED_LINES);
  let best: RingPair | undefined;
  for (const low of strongest) {
    for (const high of strongest) {
      if (high.hz <= low.hz || Math.abs(high.levelDb - low.levelDb) > UNEVEN_DB) continue;
      const rateHz = (high.hz - low.hz) / 2;
      if (rateHz < Math.max(LEAST_RATE_HZ, resolutionHz)) continue;
      const middle = (high.hz + low.hz) / 2;
      // The two may stand beside any partial, or, where the rate is the higher of both, the other way round.
      const candidates = [1, 2, 3, 4].map((n) => ({ f0Hz: middle / n, rateHz }));
      candidates.push({ f0Hz: rateHz, rateHz: middle });
      for (const candidate of candidates) {
        const pair = tryPair(loud, candidate.f0Hz, candidate.rateHz, resolutionHz);
        if (pair && (!best || isBetter(pair, best))) best = pair;
      }
    }
  }
  return best;
}

/** Of two that explain as much, the one with fewer places that could be filled: the higher fundamental. */
const isBetter = (a: RingPair, b: RingPair) =>
  a.explained > b.explained + 0.02 || (a.explained > b.explained - 0.02 && a.f0Hz > b.f0Hz * 1.01);

const worth = ({ levelDb }: Line) => levelDb - FLOOR_DB;

interface Place {
  n: number;
  /** −1, 0 or 1: below the partial, the partial itself, above it. */
  side: number;
  offHz: number;
}

function placeOf(hz: number, f0Hz: number, rateHz: number): Place {
  let best: Place = { n: 0, side: 1, offHz: hz - rateHz };
  for (const side of [0, -1, 1]) {
    const n = Math.max(1, Math.round((hz - side * rateHz) / f0Hz));
    const offHz = hz - Math.abs(n * f0Hz + side * rateHz);
    if (Math.abs(offHz) < Math.abs(best.offHz) || best.n === 0) best = { n, side, offHz };
    // A sideband that is folded back at 0 Hz.
    const folded = Math.round((rateHz - hz) / f0Hz);
    if (folded >= 1) {
      const off = hz - (rateHz - folded * f0Hz);
      if (Math.abs(off) < Math.abs(best.offHz)) best = { n: folded, side: -1, offHz: off };
    }
  }
  return best;
}

function tryPair(lines: readonly Line[], f0Hz: number, rateHz: number, resolutionHz: number): RingPair | undefined {
  if (f0Hz < LEAST_F0_HZ) return undefined;
  const tolerance = TOLERANCE * resolutionHz;
  // Sidebands next to the partials are those of voices.
  const apartHz = Math.abs(rateHz - Math.round(rateHz / f0Hz) * f0Hz);
  if (apartHz < LEAST_RATE_HZ) return undefined;
  const levels = new Map<string, number>();
  let [all, fitting] = [0, 0];
  for (const line of lines) {
    const { n, side, offHz } = placeOf(line.hz, f0Hz, rateHz);
    if (n > HIGHEST_PARTIAL) continue;
    all += worth(line);
    // A fundamental that is off by a little is further off at its multiples.
    if (Math.abs(offHz) > tolerance * Math.max(1, n / 3)) continue;
    fitting += worth(line);
    levels.set(`${n} ${side}`, line.levelDb);
  }
  const explained = fitting / all;
  if (explained < LEAST_EXPLAINED) return undefined;
  const pairs: { even: boolean; sideDb: number; partialDb: number }[] = [];
  const lone: number[] = [];
  for (let n = 1; n <= HIGHEST_PARTIAL; n++) {
    const [below, partial, above] = [-1, 0, 1].map((side) => levels.get(`${n} ${side}`));
    if (below === undefined && above === undefined) {
      if (partial !== undefined) lone.push(partial);
      continue;
    }
    const even = below !== undefined && above !== undefined && Math.abs(below - above) < UNEVEN_DB;
    pairs.push({ even, sideDb: Math.max(below ?? FLOOR_DB, above ?? FLOOR_DB), partialDb: partial ?? -Infinity });
  }
  const even = pairs.filter((pair) => pair.even);
  if (even.length < LEAST_PAIRS || even.length < 0.7 * pairs.length) return undefined;
  // Voices stand apart beside high partials only; what is multiplied has sidebands beside the loudest, too.
  const loudestPair = Math.max(...even.map(({ sideDb, partialDb }) => Math.max(sideDb, partialDb)));
  if (loudestPair < LEAST_LOUDEST_DB) return undefined;
  const beside = even.map(({ sideDb, partialDb }) => partialDb - sideDb);
  // Sidebands of soft partials lie under what is looked at.
  const heardFrom = Math.min(...lines.map(({ levelDb }) => levelDb)) + Math.max(0, median(beside)) + LONE_DB;
  if (lone.filter((db) => db > heardFrom).length > even.length / 2) return undefined;
  const hasPartials = median(beside.map((db) => Math.max(-60, db))) > MISSING_DB;
  if (!hasPartials && beside.some((db) => db > MISSING_DB)) return undefined;
  if (isPlainSeries(lines, resolutionHz)) return undefined;
  const refined = refine(lines, f0Hz, rateHz, tolerance);
  const own = Array.from({ length: HIGHEST_PARTIAL }, (_, i) =>
    Math.max(FLOOR_DB - 20, ...[-1, 0, 1].map((side) => levels.get(`${i + 1} ${side}`) ?? -Infinity)),
  );
  const top = Math.max(...own);
  return {
    ...refined,
    sidebandsDb: hasPartials ? -median(beside) : null,
    levelsDb: own.map((db) => db - top),
    explained,
  };
}

/** Whether the lines are the multiples of one frequency without many gaps: then nothing else is needed. */
function isPlainSeries(lines: readonly Line[], resolutionHz: number): boolean {
  const gaps = lines.slice(1).map((line, i) => line.hz - lines[i].hz);
  const spacing = median(gaps);
  // Of a square the spacing is twice the fundamental.
  return [spacing, spacing / 2].some(
    (f0) =>
      f0 > LEAST_F0_HZ &&
      lines.every(({ hz }) => Math.abs(hz - Math.round(hz / f0) * f0) < 0.3 * resolutionHz) &&
      lines[0].hz < 1.2 * f0,
  );
}

/** Fundamental and rate through all lines that they name, by least squares: hz = |n·f0 + side·rate|. */
function refine(lines: readonly Line[], f0Hz: number, rateHz: number, tolerance: number) {
  let [nn, ns, ss, nh, sh] = [0, 0, 0, 0, 0];
  for (const line of lines) {
    const { n, side, offHz } = placeOf(line.hz, f0Hz, rateHz);
    if (n > HIGHEST_PARTIAL || Math.abs(offHz) > tolerance * Math.max(1, n / 3)) continue;
    const weight = 10 ** (line.levelDb / 20);
    const hz = n * f0Hz + side * rateHz < 0 ? -line.hz : line.hz;
    nn += weight * n * n;
    ns += weight * n * side;
    ss += weight * side * side;
    nh += weight * n * hz;
    sh += weight * side * hz;
  }
  const determinant = nn * ss - ns * ns;
  if (!(determinant > 1e-9)) return { f0Hz, rateHz };
  return { f0Hz: (nh * ss - sh * ns) / determinant, rateHz: (sh * nn - nh * ns) / determinant };
}
