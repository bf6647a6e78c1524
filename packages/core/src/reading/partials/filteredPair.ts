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
  placesOf,
} from './pairModel';
import { type PartialFrames, frameAmplitudes } from './partialFrames';

/** Two plain waveforms behind a low-pass each: the first one's moves, the other's stands still. */
export interface FilteredPair {
  moving: FilteredSource & { slopeDbPerOctave: Slope; resonanceDb: number };
  standing: FilteredSource & { slopeDbPerOctave: Slope; resonanceDb: number; cutoffHz: number };
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
/** Guesses that are gone on with, and evaluations of each. */
const KEPT = 3;
const REFINING = 70;
/** Every so many places of a cutoff are looked at, at first and later. */
const COARSE_STRIDE = 4;
const FINE_STRIDE = 2;
const MOST_RESONANCE_DB = 24;

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
  const coarse = guesses.map((guess) => ({ guess, cost: costOf(guess, few, plain) })).sort((a, b) => a.cost - b.cost);
  const many = looked(MOST_FRAMES, numbers);
  const [found] = coarse
    .slice(0, KEPT)
    .map(({ guess }) => refined(guess, few))
    .map((guess) => {
      const steeper: PairGuess = { ...guess, slope: 24 };
      return costOf(steeper, few) < costOf(guess, few) ? refined(steeper, few) : guess;
    })
    .map((guess) => ({ guess, cost: costOf(guess, many) }))
    .sort((a, b) => a.cost - b.cost);
  return described(found.guess, found.cost, frames, loud, looked(loud.length, numbers));
}

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

/** The same with the numbers that leave least. */
function refined(start: PairGuess, frames: readonly LookedAt[]): PairGuess {
  const at = ([octaves, standingDb, moving, standing, pulseWidth]: readonly number[]): PairGuess => ({
    ...start,
    octaves,
    standingDb,
    resonancesDb: [bounded(moving), bounded(standing)],
    standing: { ...start.standing, pulseWidth: pulseWidth ?? start.standing.pulseWidth },
  });
  const width = start.standing.shape === 'pulse' ? [start.standing.pulseWidth!] : [];
  const { point } = nelderMead(
    (numbers) => costOf(at(numbers), frames),
    [start.octaves, start.standingDb, ...start.resonancesDb, ...width],
    [0.4, 3, 6, 6, ...width.map(() => 0.04)],
    REFINING,
  );
  return at(point);
}

const bounded = (resonanceDb: number) => Math.max(0, Math.min(MOST_RESONANCE_DB, resonanceDb));

function described(
  guess: PairGuess,
  cost: number,
  frames: PartialFrames,
  loud: readonly number[],
  looked: readonly LookedAt[],
): FilteredPair {
  const { moving, standing, slope, octaves, standingDb, resonancesDb } = guess;
  const model = modelOf(guess, looked[0].numbers);
  const places = placesFor(guess, looked, 1);
  const atFirst = modelOf(guess, [1]);
  const firstPlaces = placesOf(slope, resonancesDb[0], [1], 1);
  const cutoffHz = new Float64Array(frames.seconds.length).fill(NaN);
  const firsts = loud.map((t, i) => {
    const { place, levelDb } = nearestPlace(looked[i], places, model);
    cutoffHz[t] = frames.f0Hz * 2 ** place.octaves;
    const { passed } = firstPlaces[places.indexOf(place)];
    return {
      there: frameAmplitudes(frames, t)[0] / 10 ** (levelDb / 20),
      made: Math.sqrt(atFirst.moving[0] * passed[0] + atFirst.standing[0]),
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
    first: { there: median(firsts.map(({ there }) => there)), made: median(firsts.map(({ made }) => made)) },
    cutoffHz,
    errorDb: Math.sqrt(cost),
  };
}
