import { nelderMead } from '../../dsp/nelderMead';
import { correlation } from '../statistics';
import {
  type FoldedTurn,
  type Path,
  SCAN_STRIDE,
  SHIFTS,
  combDb,
  heldAgainst,
  partsOf,
  pathOf,
  roundAt,
  shareOf,
} from './foldedTurn';

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
