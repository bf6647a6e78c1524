import { type Audio, durationOf, sliceAudio } from '../../reading/audio';
import { blurOf } from './blur';
import { DEVIATION_OF_ONE_DB, type FreeVoices, chanceOf } from './chance';
import { type Flutter, flutterOf, LAGS } from './flutter';
import { type Heard, type HeardScale, hear, scaleHeard } from './hear';
import { cellPowers, floorsOf, levelsOver } from './levels';
import { soundStart } from './onset';
import { logSpectrum, pitchShift } from './shift';

/** How far two sounds are apart to the ear, and what of it, as parts whose squares add up. */
export interface ListeningDistance {
  listeningDb: number;
  overallJnd: number;
  parts: { moments: number; whole: number; flutter: number; sides: number; pitch: number; blur: number };
}

/** What of `listeningDb` is just noticeable: see docs/METHODS.md for what it was set by. */
const DB_PER_JND = 1;
/** A tone out of tune by the just noticeable 5 cents (Moore 2012) counts as one JND. */
const SEMITONES_PER_JND = 0.1;
/** Far out of tune is not heard as so many times worse. */
const PITCH_LIMIT_JND = 12;
const SIDES_COUNT = 0.04;
const FLUTTER_COUNTS = 3;
const BLUR_COUNTS = 50;
/** What the sides need to be heard at, against what they have in common: Gabriel & Colburn 1981. */
const SIDES_COVERED = 0.02;
/** Differences count once they are larger than what chance makes. */
const CHANCE_EXCUSES = 16;
const WHOLE_INSTEAD = 6;
/** Neighbours within so many ERB move together where a level or a filter differs. */
const TOGETHER_ERB = 4;

/** A single beat is this share of its depth off. */
const CHANCE_OF_DEPTH = 1;

/** What is known of a reference, for comparing others with it. */
export interface HeardOf {
  /** Where notes begin and end, s. */
  events?: readonly number[];
  /** Voices whose beats stand elsewhere each time that they are played. */
  freeVoices?: FreeVoices;
  /** How long it is taken to be; what it is when left out. */
  seconds?: number;
}

/** The reference made ready for comparing many prints with it. */
export class Listener {
  readonly #heard: Heard;
  readonly #reference: Prepared;

  constructor(reference: Audio, { events = [], freeVoices, seconds = durationOf(reference) }: HeardOf = {}) {
    this.#heard = hear(reference, seconds, events);
    this.#reference = prepare(this.#heard, undefined, freeVoices);
  }

  /** The distance of a print of the same notes at the same times. */
  compare(print: Audio): ListeningDistance {
    const heard = hear(print, this.#heard.seconds, this.#heard.events);
    if (this.#reference.scales[0].chance) evenUp(heard, this.#reference.scales);
    const proof = prepare(heard, this.#reference);
    const squares = { moments: 0, whole: 0, flutter: 0, sides: 0 };
    const share = 1 / proof.scales.length;
    this.#reference.scales.forEach((scale, i) => {
      const own = proof.scales[i];
      const mid = levelsApart(scale.mid, own.mid, scale);
      const side = levelsApart(scale.side, own.side, scale);
      squares.moments += share * mid.moments;
      // Where moments are chance, the whole has to speak for them.
      squares.whole += share * (scale.chance ? WHOLE_INSTEAD : 1) * mid.whole;
      squares.sides += share * SIDES_COUNT * (side.moments + side.whole);
      squares.flutter += share * FLUTTER_COUNTS * flutterApart(scale.flutter, own.flutter, scale.chance?.whole.own);
    });
    const outOfTune = Math.abs(pitchShift(this.#reference.spectrum, proof.spectrum)) / SEMITONES_PER_JND;
    const pitch = DB_PER_JND * PITCH_LIMIT_JND * (1 - Math.exp(-outOfTune / PITCH_LIMIT_JND));
    const blur = BLUR_COUNTS * meanSquare(this.#reference.blur, proof.blur);
    const parts = {
      moments: Math.sqrt(squares.moments),
      whole: Math.sqrt(squares.whole),
      flutter: Math.sqrt(squares.flutter),
      sides: Math.sqrt(squares.sides),
      pitch,
      blur: Math.sqrt(blur),
    };
    const listeningDb = Math.hypot(...Object.values(parts));
    return { listeningDb, overallJnd: listeningDb / DB_PER_JND, parts };
  }
}

interface Levels {
  count: number;
  /** `cells × bands`, dB over the floor. */
  cells: Float64Array;
  whole: Float64Array;
}

interface PreparedScale {
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

interface Prepared {
  scales: PreparedScale[];
  spectrum: Float64Array;
  blur: Float64Array;
}

/** Levels as they are compared; of a print, over the floors of the reference. */
function prepare(heard: Heard, reference?: Prepared, freeVoices?: FreeVoices): Prepared {
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
function evenUp(proof: Heard, scales: readonly PreparedScale[]): void {
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

/** The square of a difference less what chance excuses; it rises all the way. */
function excused(difference: number, chance: number): number {
  const square = difference * difference;
  return chance === 0 ? square : square * (square / (square + CHANCE_EXCUSES * chance * chance)) ** 4;
}

/**
 * Mean square of what two rows of levels are apart; louder bands count more. What a band shares with its
 * neighbours is less of a chance, since each partial strays by itself: it is told apart from the band's own.
 */
function rowApart(a: Float64Array, b: Float64Array, reach: number, chance?: RowChance): [number, number] {
  const { length } = a;
  let sum = 0;
  let weights = 0;
  for (let band = 0; band < length; band++) {
    const weight = Math.sqrt(Math.max(a[band], b[band]));
    const apart = a[band] - b[band];
    weights += weight;
    if (!chance) {
      sum += weight * apart * apart;
      continue;
    }
    let shared = 0;
    let loudness = 1e-9;
    for (let n = Math.max(0, band - reach); n <= Math.min(length - 1, band + reach); n++) {
      const w = Math.sqrt(Math.max(a[n], b[n]));
      shared += w * (a[n] - b[n]);
      loudness += w;
    }
    shared /= loudness;
    sum += weight * (excused(shared, chance.shared[band]) + excused(apart - shared, chance.own[band]));
  }
  return [sum, weights];
}

interface RowChance {
  own: Float64Array;
  shared: Float64Array;
}

/** Mean squares of what levels of cells, and of the whole, are apart. */
function levelsApart(a: Levels, b: Levels, { cells, chance, stepErb }: PreparedScale) {
  const { count } = a;
  const reach = Math.round(TOGETHER_ERB / stepErb);
  let moments = 0;
  let weights = 1e-9;
  for (let c = 0; c < cells.length - 1; c++) {
    const [from, to] = [c * count, (c + 1) * count];
    const row = chance && { own: chance.own.subarray(from, to), shared: chance.shared.subarray(from, to) };
    const [sum, weight] = rowApart(a.cells.subarray(from, to), b.cells.subarray(from, to), reach, row);
    const duration = (cells[c + 1] - cells[c]) ** 0.9;
    moments += duration * sum;
    weights += duration * weight;
  }
  const [whole, wholeWeights] = rowApart(a.whole, b.whole, reach, chance?.whole);
  return { moments: moments / weights, whole: whole / (wholeWeights + 1e-9) };
}

/** Mean square of how much deeper one flutters than the other: half of it by band, half what they share. */
function flutterApart(a: Flutter, b: Flutter, chance?: Float64Array): number {
  // Where the level of the whole is chance, so is how deep its beats are: few of them fit in.
  const off = (depth: number, band: number) => {
    if (!chance) return 0;
    return (CHANCE_OF_DEPTH * depth * chance[Math.min(band, chance.length - 1)]) / DEVIATION_OF_ONE_DB;
  };
  let sum = 0;
  let weights = 1e-9;
  a.levels.forEach((level, band) => {
    const weight = Math.max(level, b.levels[band]);
    a.depths[band].forEach((depth, l) => (sum += weight * excused(depth - b.depths[band][l], off(depth, band))));
    weights += LAGS.length * weight;
  });
  const shared = a.shared.map((depth, l) => excused(depth - b.shared[l], off(depth, a.levels.length) / 2));
  return (sum / weights + mean(shared)) / 2;
}

const mean = (values: readonly number[]) => values.reduce((sum, x) => sum + x, 0) / values.length;
const meanSquare = (a: Float64Array, b: Float64Array) => a.reduce((sum, x, i) => sum + (x - b[i]) ** 2, 0) / a.length;

/** The distance of two sounds that need not begin at the same time: both are taken from their onsets on. */
export function listeningDistance(
  reference: Audio,
  proof: Audio,
  { events = [], freeVoices }: Omit<HeardOf, 'seconds'> = {},
): ListeningDistance {
  const [from, own] = [soundStart(reference), soundStart(proof)];
  const [a, b] = [sliceAudio(reference, from, Infinity), sliceAudio(proof, own, Infinity)];
  const later = events.map((event) => event - from).filter((event) => event > 0);
  const seconds = Math.max(durationOf(a), durationOf(b));
  return new Listener(a, { events: later, freeVoices, seconds }).compare(b);
}
