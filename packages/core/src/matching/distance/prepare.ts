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

/** Powers that nothing is heard under. */
interface Floors {
  /** Of every band; among other sounds rows of them, as the levels have. */
  mid: { cells: Float64Array; whole: Float64Array; frames: Float64Array };
  /** What the sides have to come up to. */
  side: { cells: Float64Array; whole: Float64Array };
}

export interface PreparedScale {
  floors: Floors;
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

/** What is known of a reference besides how it sounds. */
export interface Beside {
  freeVoices?: FreeVoices;
  /** What sounds with it, at its level, and covers it. */
  surroundings?: Heard;
}

/** A reference as it is compared. */
export const prepareReference = (heard: Heard, beside: Beside): Prepared =>
  preparedWith(heard, (scale, i) =>
    prepareScale(scale, heard.events, floorsAmong(scale, beside.surroundings?.scales[i]), beside.freeVoices),
  );

/** A print as it is compared, over the floors of the reference. */
export const preparePrint = (heard: Heard, reference: Prepared): Prepared =>
  preparedWith(heard, (scale, i) => prepareScale(scale, heard.events, reference.scales[i].floors));

function preparedWith(heard: Heard, prepared: (scale: HeardScale, i: number) => PreparedScale): Prepared {
  const spectrum = logSpectrum(heard.scales[heard.scales.length - 1]);
  return { scales: heard.scales.map(prepared), spectrum, blur: blurOf(spectrum) };
}

const onceOver = (scale: HeardScale): HeardScale => ({ ...scale, cells: [0, Infinity] });

/** Mean powers of cells and of the whole. */
const powersOf = (scale: HeardScale, powers: Float64Array) => ({
  cells: cellPowers(scale, powers),
  whole: cellPowers(onceOver(scale), powers),
});

/** The threshold in quiet and under the loudest; for the sides a share of the middle; what sounds around. */
function floorsAmong(scale: HeardScale, around: HeardScale | undefined): Floors {
  const still = floorsOf(scale);
  const lifted = (powers: Float64Array) => powers.map((power, i) => power + still[i % still.length]);
  const own = powersOf(scale, scale.mid);
  const [mid, side] = around ? [powersOf(around, around.mid), powersOf(around, around.side)] : [];
  const cover = (powers: Float64Array, others: Float64Array | undefined) =>
    lifted(powers.map((power, i) => SIDES_COVERED * power + (others?.[i] ?? 0)));
  return {
    mid: {
      cells: mid ? lifted(mid.cells) : still,
      whole: mid ? lifted(mid.whole) : still,
      frames: around ? lifted(around.mid) : still,
    },
    side: { cells: cover(own.cells, side?.cells), whole: cover(own.whole, side?.whole) },
  };
}

function prepareScale(
  scale: HeardScale,
  events: readonly number[],
  floors: Floors,
  freeVoices?: FreeVoices,
): PreparedScale {
  const { bands, cells } = scale;
  const rowChance = (spans: HeardScale['cells']): RowChance => ({
    own: chanceOf(freeVoices!, bands, spans, bands.stepErb),
    shared: chanceOf(freeVoices!, bands, spans, TOGETHER_ERB),
  });
  const levels = (powers: Float64Array, over: Floors['side']): Levels => {
    const { cells: byCell, whole } = powersOf(scale, powers);
    return { count: bands.count, cells: levelsOver(byCell, over.cells), whole: levelsOver(whole, over.whole) };
  };
  return {
    floors,
    chance: freeVoices && { ...rowChance(cells), whole: rowChance([0, cells[cells.length - 1]]) },
    cells,
    stepErb: bands.stepErb,
    mid: levels(scale.mid, floors.mid),
    side: levels(scale.side, floors.side),
    flutter: flutterOf(scale, levelsOver(scale.mid, floors.mid.frames), events),
  };
}

/** Loudness is that of the lowest partials, which is chance: levels are made even by what is less of one. */
export function evenUp(proof: Heard, scales: readonly PreparedScale[]): void {
  let sum = 0;
  let weights = 1e-9;
  scales.forEach(({ floors, chance, mid }, i) => {
    const own = levelsOver(cellPowers(onceOver(proof.scales[i]), proof.scales[i].mid), floors.mid.whole);
    own.forEach((level, b) => {
      const weight = Math.min(level, mid.whole[b]) / (chance!.whole.own[b] ** 2 + 0.1);
      sum += weight * (mid.whole[b] - level);
      weights += weight;
    });
  });
  scaleHeard(proof, 10 ** (sum / weights / 10));
}

/** How often levels are made even: over a floor they do not move by as much as the power does. */
const EVEN_PASSES = 2;

/** Among other sounds, which take parts of a tone away with them, only what is left of it tells its level. */
export function evenAmong(proof: Heard, scales: readonly PreparedScale[]): void {
  for (let pass = 0; pass < EVEN_PASSES; pass++) {
    let sum = 0;
    let weights = 1e-9;
    scales.forEach(({ floors, mid }, i) => {
      const own = levelsOver(cellPowers(proof.scales[i], proof.scales[i].mid), floors.mid.cells);
      own.forEach((level, c) => {
        const weight = Math.min(level, mid.cells[c]);
        sum += weight * (mid.cells[c] - level);
        weights += weight;
      });
    });
    scaleHeard(proof, 10 ** (sum / weights / 10));
  }
}
