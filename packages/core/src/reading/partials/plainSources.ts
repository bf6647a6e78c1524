import { type PlainShape, shapeAmplitude } from './spectralShape';
import { type Slope, lowpassAttenuationDb } from '../spectra/filterTrack';

/** One plain waveform that a tone can be made of. */
export interface SourcePart {
  shape: PlainShape;
  pulseWidth: number | null;
  /** Its fundamental is this multiple of the lowest partial. */
  multiple: number;
  /** Power against that of the loudest part, dB, behind the filter. */
  levelDb: number;
  /** Of each partial, behind the filter, where the strongest partial of the sum has about 1. */
  powers: Float64Array;
}

export interface PlainSources {
  /** Lowest first. */
  parts: SourcePart[];
  /** What they leave of the levels, dB. */
  errorDb: number;
}

/** Partials that are looked at; of higher ones a filter says more than a source. */
const MOST_PARTIALS = 24;
const FLOOR_DB = -55;
/** What is so far under a neighbour is what that one leaks. */
const LEAK_DB = 18;
const SINE_MULTIPLES = [1, 2, 3, 4, 5, 6, 8];
/** Widths of a pulse that is tried alone, and beside others. */
const PULSE_WIDTHS = Array.from({ length: 20 }, (_, i) => 0.06 + 0.02 * i);
const FEW_WIDTHS = [0.1, 0.2, 0.3, 0.4];
const WIDTH_STEP = 0.01;
const RESONANCES_DB = [0, 7, 14];
const MOST_PARTS = 3;
/** Beginnings that are gone on with. */
const KEPT = 4;
/** One more part has to leave this share of the squares, and so much less. */
const WORTHWHILE_SHARE = 0.5;
const WORTHWHILE_DB = 0.7;
/** Which no more part is looked for under. */
const EXPLAINED_DB = 0.5;
/** A pulse of any width can look like much else, a resonance too. */
const PULSE_PENALTY_DB = 0.5;
const RESONANCE_PENALTY_DB = 0.4;
const AS_SAWS_PENALTY_DB = 0.4;
/** Softer parts are no source. */
const LEAST_PART_DB = -50;
/** Waveforms that leave more explain nothing; sines may, if they are few. */
const MOST_MIXED_DB = 2.5;
const DRAWN_DB = -40;
const MOST_DRAWN = 9;
const DRAWN_SHARE = 0.8;
/** Where so few places are filled, any waveform but sines would be heard in the gaps. */
const SPARSE_SHARE = 1 / 3;
/** What is under the softest stop. */
const DRAWN_ERROR_DB = 1;
/** Updates of the gains. */
const UPDATES = 10;
/** Deviations count no more than this: partials of two parts at one place add up or cancel. */
const MOST_DEVIATION_DB = 12;

interface Atom {
  shape: PlainShape;
  pulseWidth: number | null;
  multiple: number;
  powers: Float64Array;
}

interface Filter {
  powers: Float64Array;
  penaltyDb: number;
}

interface Mixture {
  atoms: readonly Atom[];
  gains: Float64Array;
  filter: Filter;
  /** Root of the mean square of what is left, dB, with penalties. */
  cost: number;
}

/**
 * Which plain waveforms at which multiples of the lowest partial add up to the levels of partials behind one
 * low-pass: at most three, each of which has to explain much of what the others leave. Gains by
 * multiplicative updates for the Itakura-Saito divergence, which counts soft partials like loud ones
 * (Févotte, Bertin & Durrieu 2009); the choice by the deviations in dB. Undefined where there are no levels.
 *
 * @param levelsDb of partials 1..n, relative to the strongest
 */
export function fitSources(levelsDb: readonly number[]): PlainSources | undefined {
  const heard = levelsDb.slice(0, MOST_PARTIALS);
  const last = heard.findLastIndex((db) => db > FLOOR_DB);
  if (last < 0) return undefined;
  // What is silent over the last partial says that a source is dull, too.
  const count = Math.min(heard.length, last + 3);
  const powers = Float64Array.from({ length: count }, (_, i) => {
    // Beating and moving neighbours leak into an empty place.
    const isLeak = heard[i] < Math.max(heard[i - 1] ?? -Infinity, heard[i + 1] ?? -Infinity) - LEAK_DB;
    return isLeak ? floorPower : Math.max(floorPower, 10 ** (heard[i] / 10));
  });
  const weights = powers.map((p, i) => weightOf(p, i));
  const { atoms, few, filters, coarse } = dictionaryOf(count);
  const bestOf = (chosen: readonly Atom[], among: readonly Filter[]) =>
    among.map((filter) => fitGains(powers, weights, chosen, filter)).reduce((a, b) => (b.cost < a.cost ? b : a));
  let kept = atoms.map((atom) => bestOf([atom], filters)).sort((a, b) => a.cost - b.cost);
  // A pulse that is a little off has its gaps at other places.
  const pulse = kept.find(({ atoms: [{ shape }] }) => shape === 'pulse');
  if (pulse) kept = [withFineWidths(pulse, powers, weights), ...kept].sort((a, b) => a.cost - b.cost);
  let best = kept[0];
  for (let parts = 2; parts <= MOST_PARTS && best.cost > EXPLAINED_DB; parts++) {
    const more = withoutTwins(kept).flatMap((start) =>
      few.filter((atom) => !start.atoms.includes(atom)).map((atom) => bestOf([...start.atoms, atom], coarse)),
    );
    kept = withoutTwins(more.sort((a, b) => a.cost - b.cost))
      .map((mixture) => bestOf(mixture.atoms, filters))
      .sort((a, b) => a.cost - b.cost);
    const next = kept[0];
    const worthwhile = next.cost < Math.sqrt(WORTHWHILE_SHARE) * best.cost && next.cost < best.cost - WORTHWHILE_DB;
    if (!worthwhile) break;
    best = next;
  }
  const found = asSources(withFineWidths(best, powers, weights), powers, weights);
  const sines = drawnSines(levelsDb);
  return sines && found.errorDb > (sines.isSparse ? DRAWN_ERROR_DB : MOST_MIXED_DB) ? sines.sources : found;
}

/**
 * A few sines with gaps between them, as of an organ's stops; undefined where there are many partials, or
 * all.
 */
function drawnSines(levelsDb: readonly number[]): { sources: PlainSources; isSparse: boolean } | undefined {
  const there = [...levelsDb.keys()].filter((i) => levelsDb[i] > DRAWN_DB);
  const highest = there[there.length - 1] + 1;
  if (there.length > MOST_DRAWN || there.length > DRAWN_SHARE * highest) return undefined;
  const parts = there.map((i) => ({
    shape: 'sine' as const,
    pulseWidth: null,
    multiple: i + 1,
    levelDb: levelsDb[i],
    powers: Float64Array.from({ length: highest }, (_, n) => (n === i ? 10 ** (levelsDb[i] / 10) : 0)),
  }));
  return { sources: { parts, errorDb: DRAWN_ERROR_DB }, isSparse: there.length <= SPARSE_SHARE * highest };
}

const kindOf = ({ shape, multiple }: Atom) => `${shape} ${multiple}`;

/** The first few of mixtures of different shapes at different multiples. */
function withoutTwins(mixtures: readonly Mixture[]): Mixture[] {
  const found = new Map<string, Mixture>();
  for (const mixture of mixtures) {
    const kinds = mixture.atoms.map(kindOf).sort().join();
    if (!found.has(kinds)) found.set(kinds, mixture);
    if (found.size === KEPT) break;
  }
  return [...found.values()];
}

/** Moves the widths of pulses as long as less is left. */
function withFineWidths(mixture: Mixture, powers: Float64Array, weights: Float64Array): Mixture {
  let best = mixture;
  for (let turn = 0; turn < 8; turn++) {
    const before = best;
    before.atoms.forEach((atom, k) => {
      if (atom.shape !== 'pulse') return;
      for (const step of [-WIDTH_STEP, WIDTH_STEP]) {
        const width = atom.pulseWidth! + step;
        if (width < 0.04 || width > 0.46) continue;
        const moved = atomOf('pulse', width, atom.multiple, powers.length);
        const atoms = before.atoms.map((other, i) => (i === k ? moved : other));
        const tried = fitGains(powers, weights, atoms, best.filter);
        if (tried.cost < best.cost) best = tried;
      }
    });
    if (best === before) break;
  }
  return best;
}

function asSources({ atoms, gains, filter }: Mixture, powers: Float64Array, weights: Float64Array): PlainSources {
  const loudness = atoms.map((atom, k) => gains[k] * atom.powers.reduce((sum, p, i) => sum + p * filter.powers[i], 0));
  const loudest = Math.max(...loudness);
  const parts = atoms.map(({ shape, pulseWidth, multiple }, k) => ({
    shape,
    pulseWidth,
    multiple,
    levelDb: 10 * Math.log10(loudness[k] / loudest + 1e-12),
    powers: atoms[k].powers.map((p, i) => gains[k] * p * filter.powers[i]),
  }));
  passThrough(atoms, filter);
  return {
    parts: parts.filter(({ levelDb }) => levelDb > LEAST_PART_DB).sort((a, b) => a.multiple - b.multiple),
    errorDb: deviationDb(powers, weights, atoms, gains),
  };
}

function atomOf(shape: PlainShape, pulseWidth: number | null, multiple: number, count: number): Atom {
  const powers = Float64Array.from({ length: count }, (_, i) =>
    (i + 1) % multiple === 0 ? shapeAmplitude(shape, pulseWidth, (i + 1) / multiple) ** 2 : 0,
  );
  return { shape, pulseWidth, multiple, powers };
}

/** What is tried, by the number of partials. */
interface Dictionary {
  atoms: Atom[];
  /** Those that are tried beside others. */
  few: Atom[];
  filters: Filter[];
  coarse: Filter[];
}

const dictionaries = new Map<number, Dictionary>();

function dictionaryOf(count: number): Dictionary {
  const known = dictionaries.get(count);
  if (known) return known;
  const atom = (shape: PlainShape, multiple: number, width: number | null = null) =>
    atomOf(shape, width, multiple, count);
  const plain = [
    ...SINE_MULTIPLES.map((multiple) => atom('sine', multiple)),
    ...[1, 2].map((multiple) => atom('triangle', multiple)),
    ...[1, 2, 3, 4].flatMap((multiple) => [atom('saw', multiple), atom('square', multiple, 0.5)]),
  ].filter(({ multiple }) => multiple <= count);
  const pulses = (widths: readonly number[]) =>
    [1, 2]
      .filter((multiple) => multiple <= count)
      .flatMap((multiple) => widths.map((width) => atom('pulse', multiple, width)));
  const dictionary = {
    atoms: [...plain, ...pulses(PULSE_WIDTHS)],
    few: [...plain, ...pulses(FEW_WIDTHS)],
    filters: filtersOf(count, 2),
    coarse: filtersOf(count, 1),
  };
  dictionaries.set(count, dictionary);
  return dictionary;
}

function filtersOf(count: number, stepsPerOctave: number): Filter[] {
  const filters: Filter[] = [{ powers: new Float64Array(count).fill(1), penaltyDb: 0 }];
  const slopes: readonly Slope[] = [12, 24];
  const steps = Array.from({ length: 1 + Math.floor(stepsPerOctave * Math.log2(2 * count)) }, (_, step) => step);
  for (const slope of slopes) {
    for (const resonanceDb of RESONANCES_DB) {
      for (const step of steps) {
        const cutoff = 0.75 * 2 ** (step / stepsPerOctave);
        const gain = (_: unknown, i: number) =>
          10 ** (-lowpassAttenuationDb(slope, (i + 1) / cutoff, resonanceDb) / 10);
        filters.push({
          powers: Float64Array.from({ length: count }, gain),
          penaltyDb: resonanceDb > 0 ? RESONANCE_PENALTY_DB : 0,
        });
      }
    }
  }
  return filters;
}

/** Room for the work on one mixture, which is done some ten thousand times a tone. */
const passed = Array.from({ length: MOST_PARTS }, () => new Float64Array(MOST_PARTIALS));
const model = new Float64Array(MOST_PARTIALS);
const floorPower = 10 ** (FLOOR_DB / 10);

/** Puts the powers of each atom behind the filter into `passed`. */
function passThrough(atoms: readonly Atom[], filter: Filter): void {
  for (let k = 0; k < atoms.length; k++) {
    const own = passed[k];
    for (let i = 0; i < filter.powers.length; i++) own[i] = atoms[k].powers[i] * filter.powers[i];
  }
}

function fitGains(powers: Float64Array, weights: Float64Array, atoms: readonly Atom[], filter: Filter): Mixture {
  const count = powers.length;
  const gains = new Float64Array(atoms.length);
  passThrough(atoms, filter);
  // Each begins at what it would need for the strongest of its own partials.
  for (let k = 0; k < atoms.length; k++) {
    let least = Infinity;
    for (let i = 0; i < count; i++) {
      const p = passed[k][i];
      if (p > 1e-3) least = Math.min(least, (powers[i] / p) * (1 + i));
    }
    gains[k] = Number.isFinite(least) ? least : 1e-6;
  }
  // One alone is there at once.
  for (let update = atoms.length > 1 ? 0 : UPDATES - 2; update < UPDATES; update++) {
    model.fill(floorPower);
    for (let k = 0; k < atoms.length; k++) {
      const own = passed[k];
      for (let i = 0; i < count; i++) model[i] += gains[k] * own[i];
    }
    for (let k = 0; k < atoms.length; k++) {
      const own = passed[k];
      let [up, down] = [0, 0];
      for (let i = 0; i < count; i++) {
        const share = (weights[i] * own[i]) / model[i];
        up += (share * powers[i]) / model[i];
        down += share;
      }
      if (down > 0) gains[k] *= atoms.length === 1 ? up / down : Math.sqrt(up / down);
    }
  }
  const cost = deviationDb(powers, weights, atoms, gains) + filter.penaltyDb + unlikelinessDb(atoms);
  return { atoms, gains, filter, cost };
}

/** What plain sums can be said otherwise cost: the commoner way to say it is told. */
function unlikelinessDb(atoms: readonly Atom[]): number {
  const pulses = atoms.filter(({ shape }) => shape === 'pulse').length;
  // A square and a saw an octave up have the partials of two saws.
  const asSaws = atoms.some(
    ({ shape, multiple }) =>
      shape === 'square' && atoms.some((other) => other.shape === 'saw' && other.multiple === 2 * multiple),
  );
  return PULSE_PENALTY_DB * pulses + (asSaws ? AS_SAWS_PENALTY_DB : 0);
}

const FALL = Float64Array.from({ length: MOST_PARTIALS }, (_, i) => (i + 1) ** -0.3);

/** How much a partial counts: soft ones and high ones less. */
const weightOf = (power: number, i: number) => (0.15 + Math.sqrt(power)) * FALL[i];

/** What partials of two parts at one place make of each other counts so much of what cannot be. */
const PHASE_SHARE = 0.25;

const mean = new Float64Array(MOST_PARTIALS);
const sums = new Float64Array(MOST_PARTIALS);
const strongest = new Float64Array(MOST_PARTIALS);
const together = new Float64Array(MOST_PARTIALS);

/** Puts into `mean` what the atoms in `passed` come to at each partial, and what least and most are of. */
function mix(atoms: readonly Atom[], gains: Float64Array): void {
  const { length: count } = atoms[0].powers;
  for (const sum of [mean, sums, strongest]) sum.fill(0, 0, count);
  for (let k = 0; k < atoms.length; k++) {
    const { multiple } = atoms[k];
    // Parts of one pitch beat or stand still against each other at all partials alike: their powers add up.
    if (atoms.findIndex((atom) => atom.multiple === multiple) < k) continue;
    together.fill(0, 0, count);
    for (let j = k; j < atoms.length; j++) {
      if (atoms[j].multiple !== multiple) continue;
      for (let i = 0; i < count; i++) together[i] += gains[j] * passed[j][i];
    }
    for (let i = 0; i < count; i++) {
      const amplitude = Math.sqrt(together[i]);
      mean[i] += together[i];
      sums[i] += amplitude;
      if (amplitude > strongest[i]) strongest[i] = amplitude;
    }
  }
}

/** How far levels are from a mixture, dB: from its least and most at any phases, and from its mean. */
function deviationDb(powers: Float64Array, weights: Float64Array, atoms: readonly Atom[], gains: Float64Array): number {
  mix(atoms, gains);
  let [sum, all] = [0, 0];
  for (let i = 0; i < powers.length; i++) {
    const power = powers[i];
    const expected = Math.max(floorPower, mean[i]);
    const most = Math.max(floorPower, sums[i] * sums[i]);
    const least = Math.max(floorPower, Math.max(0, 2 * strongest[i] - sums[i]) ** 2);
    const beyond = power > most ? power / most : power < least ? least / power : 1;
    const decibels = (10 / Math.LN10) * Math.log(beyond);
    const within = Math.abs((10 / Math.LN10) * Math.log(power / expected)) - decibels;
    const off = Math.min(MOST_DEVIATION_DB, decibels + PHASE_SHARE * within);
    // What either has counts.
    const weight = Math.max(weights[i], weightOf(Math.min(4, expected), i));
    sum += weight * off * off;
    all += weight;
  }
  return Math.sqrt(sum / all);
}
