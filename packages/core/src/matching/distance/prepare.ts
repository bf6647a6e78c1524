import { blurOf } from './blur';
import { type FreeVoices, chanceOf } from './chance';
import { type Flutter, flutterOf } from './flutter';
import { type Heard, type HeardScale, scaleHeard } from './hear';
import { cellPowers, floorsOf, levelsOver } from './levels';
import { logSpectrum } from './shift';

/** Neighbours within so many ERB move together where a level or a filter differs. */
export const TOGETHER_ERB = 4;

/** What the sides need to be heard at, against what they have in common: Gabriel & Colburn 1981. */
const SIDES_COVERED = 0.02;
/** How far levels are off by chance, dB: those of bands, and what neighbours share. */
export interface RowChance {
  own: Float64Array;
  shared: Float64Array;
}

export interface Levels {
  count: number;
  /** `cells × bands`, dB over the floor. */
  cells: Float64Array;
  whole: Float64Array;
}

export interface PreparedScale {
  floors: Float64Array;
  /** What the sides have to come up to, by cell and band, and over the whole. */
  covered: { cells: Float64Array; whole: Float64Array };
  /** How far levels are off by chance, dB. */
  chance: (RowChance & { whole: RowChance }) | undefined;
  cells: HeardScale['cells'];
  stepErb: number;
  mid: Levels;
  side: Levels;
  flutter: Flutter;
}

export interface Prepared {
  scales: PreparedScale[];
  spectrum: Float64Array;
  blur: Float64Array;
}

/** Levels as they are compared; of a print, over the floors of the reference. */
export function prepare(heard: Heard, reference?: Prepared, freeVoices?: FreeVoices): Prepared {
  const spectrum = logSpectrum(heard.scales[heard.scales.length - 1]);
  return {
    scales: heard.scales.map((scale, i) => prepareScale(scale, heard.events, reference?.scales[i], freeVoices)),
    spectrum,
    blur: blurOf(spectrum),
  };
}

function prepareScale(
  scale: HeardScale,
  events: readonly number[],
  like: PreparedScale | undefined,
  freeVoices: FreeVoices | undefined,
): PreparedScale {
  const { bands, cells } = scale;
  const rowChance = (spans: HeardScale['cells']): RowChance => ({
    own: chanceOf(freeVoices!, bands, spans, bands.stepErb),
    shared: chanceOf(freeVoices!, bands, spans, TOGETHER_ERB),
  });
  const floors = like?.floors ?? floorsOf(scale);
  const once = { ...scale, cells: [0, Infinity] };
  const mid = { cells: cellPowers(scale, scale.mid), whole: cellPowers(once, scale.mid) };
  const side = { cells: cellPowers(scale, scale.side), whole: cellPowers(once, scale.side) };
  const cover = (powers: Float64Array) => powers.map((power, i) => SIDES_COVERED * power + floors[i % bands.count]);
  const covered = like?.covered ?? { cells: cover(mid.cells), whole: cover(mid.whole) };
  const levels = (powers: typeof mid, over: typeof mid): Levels => {
    const cells = levelsOver(powers.cells, over.cells);
    return { count: bands.count, cells, whole: levelsOver(powers.whole, over.whole) };
  };
  return {
    floors,
    covered,
    chance: freeVoices && { ...rowChance(cells), whole: rowChance([0, cells[cells.length - 1]]) },
    cells,
    stepErb: bands.stepErb,
    mid: levels(mid, { cells: floors, whole: floors }),
    side: levels(side, covered),
    flutter: flutterOf(scale, levelsOver(scale.mid, floors), events),
  };
}

/** Loudness is that of the lowest partials, which is chance: levels are made even by what is less of one. */
export function evenUp(proof: Heard, scales: readonly PreparedScale[]): void {
  let sum = 0;
  let weights = 1e-9;
  scales.forEach(({ floors, chance, mid }, i) => {
    const once = { ...proof.scales[i], cells: [0, Infinity] };
    const own = levelsOver(cellPowers(once, proof.scales[i].mid), floors);
    own.forEach((level, b) => {
      const weight = Math.min(level, mid.whole[b]) / (chance!.whole.own[b] ** 2 + 0.1);
      sum += weight * (mid.whole[b] - level);
      weights += weight;
    });
  });
  scaleHeard(proof, 10 ** (sum / weights / 10));
}
