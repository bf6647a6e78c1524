import { median } from '../statistics';
import { combPath } from './combPath';
import { type FoldedTurn, type Path, shareOf } from './foldedTurn';
import { filterPath, notchPath, phaserPath } from './logPaths';

/** What can move the partials of a tone against one another. */
export type PartialMover = 'common' | 'lows' | 'filter' | 'notch' | 'phaser' | 'chorus';

export interface MoverFit extends Path {
  mover: PartialMover;
  /** The share that the next best explains. */
  next: number;
}

/** Which of the movers explains a turn best, by fits of each with few parameters (our own method). */
export function findMover(turn: FoldedTurn, comb = combPath(turn)): MoverFit {
  const common = commonShare(turn);
  const paths: Record<PartialMover, Path> = {
    common: { explained: common, width: 0, middle: 0, startCycles: 0 },
    lows: lowsShare(turn, common + LOWS_LEAD),
    filter: filterPath(turn),
    notch: notchPath(turn),
    phaser: phaserPath(turn),
    chorus: comb,
  };
  const ranked = (Object.keys(paths) as PartialMover[]).sort((a, b) => paths[b].explained - paths[a].explained);
  const [mover, next] = ranked;
  return { mover, ...paths[mover], next: paths[next].explained };
}

/** What a cutoff, or a comb, explains of a turn. */
export const explainedOtherwise = (turn: FoldedTurn): number =>
  Math.max(filterPath(turn).explained, combPath(turn).explained);

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
