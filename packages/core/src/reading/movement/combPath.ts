import { dotProduct } from '../../dsp/dotProduct';
import { nelderMead } from '../../dsp/nelderMead';
import { mean } from '../statistics';
import {
  type FoldedTurn,
  type Path,
  SCAN_STRIDE,
  SHIFTS,
  combDb,
  holdAgainst,
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
  const columns = Array.from({ length: parts }, (_, part) => standardized(levelsDb.map((row) => row[part])));
  // How well each delay explains each part of the turn by itself, as Pearson's correlation; what a path
  // explains is then a sum over a table.
  const fit = columns.map(() => new Float64Array(delays));
  for (let k = 0; k < delays; k++) {
    const angle = 2 * Math.PI * f0Hz * (MIN_DELAY_SECONDS + k * step);
    const cosines = standardized(partials.map((n) => Math.cos(n * angle)));
    columns.forEach((column, part) => (fit[part][k] = dotProduct(cosines, column)));
  }
  const depths = Math.floor(MOST_DEPTH_SECONDS / step);
  let found = { score: -Infinity, middle: 0, depth: 0, shift: 0 };
  const scores = new Float64Array(delays);
  for (let depth = 1; depth < depths; depth += Math.max(1, Math.round(DEPTH_GROWTH * depth))) {
    for (let shift = 0; shift < 1; shift += 1 / SHIFTS) {
      scores.fill(0);
      for (let part = 0; part < parts; part += SCAN_STRIDE) {
        const offset = Math.round(depth * roundAt(turn, part, shift));
        const row = fit[part];
        for (let middle = depth; middle < delays - depth; middle++) scores[middle] += row[middle + offset];
      }
      for (let middle = depth; middle < delays - depth; middle++) {
        if (scores[middle] > found.score) found = { score: scores[middle], middle, depth, shift };
      }
    }
  }
  const way = Array.from({ length: parts }, () => new Float64Array(partials.length));
  const explainedBy = (middle: number, depth: number, shift: number) => {
    way.forEach((row, part) => {
      const delay = MIN_DELAY_SECONDS + (middle + depth * roundAt(turn, part, shift)) * step;
      for (let n = 0; n < row.length; n++) row[n] = combDb(2 * Math.PI * partials[n] * f0Hz * delay);
      holdAgainst(turn, row);
    });
    return shareOf(turn, way);
  };
  const { point, cost } = nelderMead(
    ([middle, depth, shift]) => -explainedBy(middle, depth, shift),
    [found.middle, found.depth, found.shift],
    [0.5, 0.5, 0.03],
    120,
  );
  const path = pathOf(point, -cost);
  return usual({ ...path, width: path.width * step, middle: MIN_DELAY_SECONDS + path.middle * step }, 1 / f0Hz);
}

/** Values around their mean, whose squares sum up to 1; zeros where they do not move. */
function standardized(values: readonly number[]): Float64Array {
  const middle = mean(values);
  const around = Float64Array.from(values, (x) => x - middle);
  const length = Math.hypot(...around);
  return length > 0 ? around.map((x) => x / length) : around;
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
