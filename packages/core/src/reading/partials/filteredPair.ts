import { nelderMead } from '../../dsp/nelderMead';
import { type Slope } from '../spectra/filterTrack';
import { mean, median, spread } from '../statistics';
import {
  type FilteredSource,
  type LookedAt,
  type PairGuess,
  type Place,
  lookAt,
  modelOf,
  nearestPlace,
  powerAt,
  placesOf,
} from './pairModel';
import { type PartialFrames, frameAmplitudes } from './partialFrames';

/** Two plain waveforms behind a low-pass each: the first one's moves, the other's stands still. */
export interface FilteredPair {
  moving: FilteredSource & { slopeDbPerOctave: Slope; resonanceDb: number };
  standing: FilteredSource & { slopeDbPerOctave: Slope; resonanceDb: number; cutoffHz: number };
  /** Where in its period the standing waveform begins, as in a patch, when the moving one begins its own. */
  cycles: number;
  /** Peak of the standing waveform over that of the moving one, in front of the filters, dB. */
  standingDb: number;
  /** Amplitude of the lowest partial, and what the two waveforms have there, over the moving one's peak. */
  first: { there: number; made: number };
  /** The moving cutoff in every frame; NaN where the frame is too quiet to tell. */
  cutoffHz: Float64Array;
  /** What they leave of the partials, dB. */
  errorDb: number;
}

/** Partials that are held against the model: a sine may stand at the first one. */
const FIRST = 2;
const LEAST = 8;
/** All up to this one; of higher ones a few say as much, some of each multiple. */
const ALL = 48;
const HIGHER = [60, 84, 120, 168].flatMap((n) => [n + 3, n + 4, n + 6]);
const NUMBERS = [...Array.from({ length: ALL - FIRST + 1 }, (_, i) => FIRST + i), ...HIGHER];
/** Quieter frames, against the loudest, say nothing. */
const LOUD = 10 ** (-35 / 10);
const FEW_FRAMES = 5;
const MOST_FRAMES = 24;
/** Partials that change less against one another say nothing of a filter that moves. */
const MOVES_DB = 2;
/** Kinds of waveforms that are gone on with, at first and later, and evaluations of each. */
const LIKELY = 8;
const ROUGH = 30;
const KEPT = 3;
const FINE = 90;
const PHASES = 16;
/** Every so many places of a cutoff are looked at, at first and later. */
const COARSE_STRIDE = 4;
const FINE_STRIDE = 2;
const RESONANCES_DB = [0, 24] as const;
/** Wider ones are narrower ones upside down. */
const PULSE_WIDTHS = [0.02, 0.5] as const;

/** Of the first waveform and the other. */
const MULTIPLES = [
  [1, 1],
  [1, 2],
  [1, 4],
  [2, 1],
  [2, 4],
  [1, 3],
] as const;
const MOVING: readonly Omit<FilteredSource, 'multiple'>[] = [
  { shape: 'saw', pulseWidth: null },
  { shape: 'square', pulseWidth: 0.5 },
];
const STANDING: readonly Omit<FilteredSource, 'multiple'>[] = [
  ...MOVING,
  ...[0.12, 0.22, 0.35].map((pulseWidth) => ({ shape: 'pulse' as const, pulseWidth })),
];
/** Of a cutoff that stands still over the lowest partial; the last is open. */
const STANDING_OCTAVES = [1.5, 2.75, 4, 5.25, 8];
const STANDING_DBS = [-18, -12, -6, 0, 6];

const guesses: readonly PairGuess[] = MULTIPLES.flatMap(([first, second]) =>
  MOVING.flatMap((moving) =>
    STANDING.flatMap((standing) =>
      STANDING_OCTAVES.flatMap((octaves) =>
        STANDING_DBS.map((standingDb) => ({
          moving: { ...moving, multiple: first },
          standing: { ...standing, multiple: second },
          slope: 12,
          octaves,
          standingDb,
          resonancesDb: [0, 0] as const,
          cycles: null,
        })),
      ),
    ),
  ),
);

/**
 * Two plain waveforms, one behind a low-pass that moves, one behind one that stands still, by the partials
 * of all frames: the moving one's cutoff is free in each, and so is the level. Guesses on a grid are held
 * against a few frames, the nearest refined (Nelder & Mead 1965). Undefined where there are too few frames
 * or partials, or nothing moves.
 *
 * @param fromSeconds frames before it reach back over the onset
 */
export function fitFilteredPair(
  frames: PartialFrames,
  fromSeconds: number,
  toSeconds: number,
): FilteredPair | undefined {
  const loud = loudFrames(frames, fromSeconds, toSeconds);
  if (loud.length < FEW_FRAMES || frames.count < LEAST) return undefined;
  const top = Math.max(...loud.map((t) => Math.max(...frameAmplitudes(frames, t)) ** 2));
  const numbers = NUMBERS.filter((n) => n <= frames.count);
  const looked = (most: number, of: readonly number[]) =>
    spread(loud.length, most).map((i) => lookAt(frameAmplitudes(frames, loud[i]), top, of));
  const few = looked(FEW_FRAMES, numbers.filter(isLookedAtFirst));
  if (!moves(few)) return undefined;
  const plain = placesOf(guesses[0].slope, 0, few[0].numbers, COARSE_STRIDE);
  const likely = ofEachKind(sortedBy(guesses, (guess) => costOf(guess, few, plain)))
    .slice(0, LIKELY)
    .map((guess) => nearest(inPhase(guess, few), few, ROUGH));
  const near = sortedBy(likely, (guess) => costOf(guess, few))
    .slice(0, KEPT)
    .map((guess) => nearest(inPhase(guess, few), few, FINE));
  const [best] = sortedBy(near, (guess) => costOf(guess, few));
  const steeper = nearest(inPhase({ ...best, slope: 24 }, few), few, FINE);
  const many = looked(MOST_FRAMES, numbers);
  const [found] = sortedBy([...near, steeper], (guess) => costOf(guess, many));
  return described(found, costOf(found, many), frames, loud, looked(loud.length, numbers));
}

/** Of the same waveforms at the same multiples the first. */
function ofEachKind(sorted: readonly PairGuess[]): PairGuess[] {
  const found = new Map<string, PairGuess>();
  for (const guess of sorted) {
    const kind = [guess.moving, guess.standing]
      .map(({ shape, pulseWidth, multiple }) => `${shape} ${pulseWidth} ${multiple}`)
      .join();
    if (!found.has(kind)) found.set(kind, guess);
  }
  return [...found.values()];
}

const sortedBy = (all: readonly PairGuess[], costOfOne: (guess: PairGuess) => number): PairGuess[] =>
  all
    .map((guess) => ({ guess, cost: costOfOne(guess) }))
    .sort((a, b) => a.cost - b.cost)
    .map(({ guess }) => guess);

function loudFrames(frames: PartialFrames, fromSeconds: number, toSeconds: number): number[] {
  const powerOf = (t: number) => frameAmplitudes(frames, t).reduce((sum, a) => sum + a * a, 0);
  const within = [...frames.seconds.keys()].filter(
    (t) => frames.seconds[t] >= fromSeconds && frames.seconds[t] <= toSeconds,
  );
  const loudest = Math.max(...within.map(powerOf));
  return within.filter((t) => powerOf(t) > LOUD * loudest);
}

const isLookedAtFirst = (n: number) => n <= 12 || n > ALL || n % 8 === 0 || n % 8 === 3 || n % 8 === 4;

/** Whether highs go another way than lows, from the first frame to the last. */
function moves(frames: readonly LookedAt[]): boolean {
  const last = frames[frames.length - 1].decibels;
  const changes = frames[0].decibels.map((db, i) => db - last[i]);
  const middle = median(changes);
  return mean(changes.map((change) => Math.abs(change - middle))) > MOVES_DB;
}

/** Mean square of what a guess leaves of frames, dB². */
function costOf(guess: PairGuess, frames: readonly LookedAt[], places = placesFor(guess, frames, FINE_STRIDE)): number {
  const model = modelOf(guess, frames[0].numbers);
  return mean(frames.map((frame) => nearestPlace(frame, places, model).cost));
}

const placesFor = ({ slope, resonancesDb }: PairGuess, [{ numbers }]: readonly LookedAt[], stride: number): Place[] =>
  placesOf(slope, resonancesDb[0], numbers, stride);

/** The same with the standing waveform beginning where it leaves least. */
function inPhase(guess: PairGuess, frames: readonly LookedAt[]): PairGuess {
  const tried = Array.from({ length: PHASES }, (_, i) => ({ ...guess, cycles: i / PHASES }));
  const costs = tried.map((one) => costOf(one, frames));
  return tried[costs.indexOf(Math.min(...costs))];
}

/** The same with the numbers that leave least. */
function nearest(start: PairGuess, frames: readonly LookedAt[], evaluations: number): PairGuess {
  const { pulseWidth, shape } = start.standing;
  const free = [
    { value: start.octaves, step: 0.4 },
    { value: start.standingDb, step: 3 },
    ...start.resonancesDb.map((value) => ({ value, step: 6 })),
    ...(start.cycles === null ? [] : [{ value: start.cycles, step: 1 / PHASES }]),
    ...(shape === 'pulse' ? [{ value: pulseWidth!, step: 0.04 }] : []),
  ];
  const at = ([octaves, standingDb, moving, standing, ...others]: readonly number[]): PairGuess => ({
    ...start,
    octaves,
    standingDb,
    resonancesDb: [bounded(moving, RESONANCES_DB), bounded(standing, RESONANCES_DB)],
    cycles: start.cycles === null ? null : others[0],
    standing: {
      ...start.standing,
      pulseWidth: shape === 'pulse' ? bounded(others[others.length - 1], PULSE_WIDTHS) : pulseWidth,
    },
  });
  const { point } = nelderMead(
    (numbers) => costOf(at(numbers), frames),
    free.map(({ value }) => value),
    free.map(({ step }) => step),
    evaluations,
  );
  return at(point);
}

const bounded = (value: number, [least, most]: readonly [number, number]) => Math.max(least, Math.min(most, value));

function described(
  guess: PairGuess,
  cost: number,
  frames: PartialFrames,
  loud: readonly number[],
  looked: readonly LookedAt[],
): FilteredPair {
  const { moving, standing, slope, octaves, standingDb, resonancesDb, cycles } = guess;
  const model = modelOf(guess, looked[0].numbers);
  const places = placesFor(guess, looked, 1);
  const atFirst = modelOf(guess, [1]);
  const firstPlaces = placesOf(slope, resonancesDb[0], [1], 1);
  const cutoffHz = new Float64Array(frames.seconds.length).fill(NaN);
  const firsts = loud.map((t, i) => {
    const { place, levelDb } = nearestPlace(looked[i], places, model);
    cutoffHz[t] = frames.f0Hz * 2 ** place.octaves;
    return {
      there: frameAmplitudes(frames, t)[0] / 10 ** (levelDb / 20),
      made: Math.sqrt(powerAt(atFirst, firstPlaces[places.indexOf(place)], 0)),
    };
  });
  return {
    moving: { ...moving, slopeDbPerOctave: slope, resonanceDb: resonancesDb[0] },
    standing: {
      ...standing,
      slopeDbPerOctave: slope,
      resonanceDb: resonancesDb[1],
      cutoffHz: frames.f0Hz * 2 ** octaves,
    },
    standingDb,
    cycles: (((cycles ?? 0) % 1) + 1) % 1,
    first: { there: median(firsts.map(({ there }) => there)), made: median(firsts.map(({ made }) => made)) },
    cutoffHz,
    errorDb: Math.sqrt(cost),
  };
}
