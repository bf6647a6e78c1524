import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import { mean, median } from '../statistics';
import { type Decays, fitDecays, isOneFall, levelAt, releaseAt, roomAt } from './decays';
import { MIN_STEPS, STEP_SECONDS } from './tail';

/** How much the partials come and go in a room at least, and how much more than they did before, dB. */
const LEAST_FLUCTUATION_DB = 2;
/** Of low tones less is seen, through longer windows: it is enough where it is so much more than before. */
const LEAST_OF_STILL_DB = 1;
const STILL = 3;
const LEAST_CONTRAST_DB = 1.5;
/** Voices beat slowly in the lowest partials, where a room's come and go as fast as in any. */
const LOW_PARTIALS = 6;
/** A room that is this much slower and softer than the release shows by the kink between them. */
const KINK = 1.6;
const KINK_DB = -3;
/** The same where voices beat: a dip between them at the end of a note looks like a kink. */
const BEATING_KINK = 3;
const BEATING_KINK_DB = -7;
/** Levels that nothing holds together spread by so much (Schroeder 1962), those of several by less. */
const SPREAD_DB = 5.57;
const MISFIT_DB = 0.9;
/** A fall that nothing follows is met better: beats before the end of a note make one that is not there. */
const ONE_FALL = 0.75;
const LEAST_OWN_SECONDS = 0.1;
const LEAST_OWN_DB = 8;
const MIN_RT60 = 0.12;
const MAX_RT60 = 15;
/** What is heard by itself is this much louder than what it is heard with. */
const CLEAR_DB = 6;
/** A tone that is heard for less before its room says nothing of how it moves by itself. */
const LEAST_BEFORE_SECONDS = 0.1;

export type Partials = 'steady' | 'beating' | 'combed';

export interface Room {
  rt60Seconds: number;
  confidence: number;
  /** Where the tail begins that tells it. */
  fromSeconds: number;
  /** Whether that is about where the tone begins. */
  isPlucked: boolean;
  /** Release and room from there on. */
  decays: Decays;
  /** From when to when the room is heard by itself, from there on. */
  alone: { fromSeconds: number; toSeconds: number };
}

/**
 * The room from the free decay: levels of the partials after the note falls, each against its own start and
 * averaged in dB so that all count alike, are fitted as the sum of a release and a room, both exponential,
 * the room's held for the pre-delay. RT60 is the room's. That it is one shows in its partials: a room answers
 * a held tone steadily, and once that is gone they come and go by themselves, as those of dense reflections
 * do (Schroeder 1962), while a release falls as smoothly, or beats as much, as the tone did before. The first
 * time from which such a sum fits decides.
 *
 * @param onsetSeconds where the note begins
 * @param endsSeconds where it may be let go, in order
 * @param movement whether the partials come and go by themselves, as voices beat or as notches go through
 */
export function findRoom(
  envelopes: PartialEnvelopes,
  onsetSeconds: number,
  endsSeconds: readonly number[],
  movement: Partials,
): Room | undefined {
  const reach = Math.max(LEAST_REACH, Math.round((REACH_WINDOWS * envelopes.windowSeconds) / STEP_SECONDS));
  const settled = onsetSeconds + LEAST_BEFORE_SECONDS / 2 - envelopes.seconds[0];
  const begun = Math.max(0, Math.round(settled / STEP_SECONDS));
  for (const fromSeconds of endsSeconds) {
    const tail = tailLevels(envelopes, fromSeconds);
    if (tail.levelsDb.length < MIN_STEPS) continue;
    const fit = fitDecays(tail.seconds, tail.levelsDb);
    const heard = [...tail.levelsDb.keys()].filter((i) => tail.levelsDb[i] > fit.floorDb + CLEAR_DB);
    const own = ownSteps(fit, tail.seconds);
    // Echoes and movements come down in steps: a room's partials, taken together, do not.
    const mostMisfitDb = MISFIT_DB + SPREAD_DB / Math.sqrt(tail.partials.length);
    if (isLong(fit, own) && misfitDb(fit, tail, own) < mostMisfitDb && hasFallenAlike(fit, tail, own)) {
      const span = [own[0], own[own.length - 1]] as const;
      const confidence = roomConfidence(fit, span, tail, begun, reach, movement);
      if (confidence > 0)
        return {
          rt60Seconds: Number(fit.roomSeconds.toPrecision(4)),
          confidence,
          fromSeconds,
          isPlucked: isBrief(tail.first, begun),
          decays: fit,
          alone: { fromSeconds: tail.seconds[span[0]], toSeconds: tail.seconds[span[1]] },
        };
    }
    // What is seen of one even fall from later on is no more than that.
    if (isOneFall(fit) && misfitDb(fit, tail, heard) < ONE_FALL * mostMisfitDb) return undefined;
  }
  return undefined;
}

/** Whether a room is heard by itself for long enough to say how fast it dies away. */
function isLong({ roomSeconds }: Decays, own: readonly number[]): boolean {
  if (roomSeconds < MIN_RT60 || roomSeconds > MAX_RT60 || own.length === 0) return false;
  const seconds = (own[own.length - 1] - own[0]) * STEP_SECONDS;
  return seconds >= LEAST_OWN_SECONDS && (60 * seconds) / roomSeconds >= LEAST_OWN_DB;
}

/** Once the room is heard by itself, partials have fallen by about as much as one another. */
const ALIKE_DB = 20;
const FALLEN_ALIKE = 0.5;

/**
 * Whether partials have fallen about as far as one another once the room is heard by itself: sines that die
 * away each in a time of its own come to a mean that bends as one behind a release does.
 */
function hasFallenAlike(fit: Decays, { partials, seconds, first }: Tail, [from]: readonly number[]): boolean {
  const average = levelAt(fit, seconds[from]);
  const alike = partials.filter((line) => Math.abs(line[first + from] - average) < ALIKE_DB);
  return alike.length >= FALLEN_ALIKE * partials.length;
}

const misfitDb = (fit: Decays, { seconds, levelsDb }: Tail, steps: readonly number[]) =>
  Math.sqrt(mean(steps.map((i) => (levelsDb[i] - levelAt(fit, seconds[i])) ** 2)));

/** Whether so little of the tone is heard before a step that it says nothing. */
const isBrief = (step: number, begun: number) => (step - begun) * STEP_SECONDS < LEAST_BEFORE_SECONDS;

/** How sure it is that what dies away last is a room; 0 where nothing says so. */
function roomConfidence(
  { releaseSeconds, roomSeconds, roomDb }: Decays,
  [from, to]: readonly [number, number],
  { partials, first }: Tail,
  begun: number,
  reach: number,
  movement: Partials,
): number {
  const low = partials.slice(0, LOW_PARTIALS);
  const after = fluctuationDb(low, first + from, first + to, reach, lastingSize);
  const before = isBrief(first + from, begun) ? 0 : fluctuationDb(low, begun, first + from, reach, rootMeanSquare);
  const moreDb = after - before - LEAST_CONTRAST_DB;
  const isKinked = (kink: number, kinkDb: number) => kink * releaseSeconds < roomSeconds && roomDb < kinkDb;
  const kinked =
    movement === 'steady' ? isKinked(KINK, KINK_DB) : movement === 'beating' && isKinked(BEATING_KINK, BEATING_KINK_DB);
  const leastDb = after > STILL * before ? LEAST_OF_STILL_DB : LEAST_FLUCTUATION_DB;
  if (after < leastDb || (moreDb < 0 && !kinked)) return 0;
  return Math.min(0.9, 0.55 + 0.08 * Math.max(0, moreDb) + (kinked ? 0.1 : 0));
}

/** Steps in which the room is heard by itself: clear of the release, and over the floor. */
function ownSteps(fit: Decays, seconds: Float64Array): number[] {
  const isAll = isOneFall(fit);
  return [...seconds.keys()].filter((i) => {
    const room = roomAt(fit, seconds[i]);
    const release = releaseAt(fit, seconds[i]);
    const over = isAll ? Math.max(room, release) : room > release + CLEAR_DB ? room : -Infinity;
    return over > fit.floorDb + CLEAR_DB;
  });
}

const PARTIAL_DB = -40;
/** The fit sees the floor of a recording when the tail reaches it. */
const TAIL_RANGE_DB = 85;

interface Tail {
  /** From where it begins. */
  seconds: Float64Array;
  levelsDb: Float64Array;
  /** All along the note. */
  partials: Float64Array[];
  /** The step of the note that it begins with. */
  first: number;
}

/** Levels of partials in steps, each against its own where the tail begins, and their mean in the tail. */
function tailLevels({ seconds, hopSeconds, partials }: PartialEnvelopes, fromSeconds: number): Tail {
  const step = Math.max(1, Math.round(STEP_SECONDS / hopSeconds));
  const count = Math.floor(seconds.length / step);
  const first = Math.min(count, Math.max(0, Math.round((fromSeconds - seconds[0]) / (step * hopSeconds))));
  const lines = partials.map((partial) => {
    const powers = powersOf(partial);
    return Float64Array.from({ length: count }, (_, i) => mean(powers.subarray(i * step, (i + 1) * step)));
  });
  const starts = lines.map((line) => line[first] ?? 0);
  const loudest = Math.max(...starts);
  const loud = lines.filter((_, n) => starts[n] > loudest * 10 ** (PARTIAL_DB / 10));
  const levels = loud.map((line) => line.map((x) => 10 * Math.log10(x / line[first] + 1e-12)));
  const average = Float64Array.from({ length: loud.length > 0 ? count - first : 0 }, (_, i) =>
    mean(levels.map((line) => line[first + i])),
  );
  const end = average.findLastIndex((db) => db > -TAIL_RANGE_DB) + 1;
  return {
    seconds: Float64Array.from({ length: end }, (_, i) => i * step * hopSeconds),
    levelsDb: average.subarray(0, end),
    partials: levels,
    first,
  };
}

/** Over so many lengths of the window that they were seen with the partials are taken to go straight on. */
const REACH_WINDOWS = 1.2;
/** The same in steps, at least. */
const LEAST_REACH = 4;

/**
 * How far the partials stray from a straight line between what they were and what they will be, each for
 * itself, dB: what all do together is a movement of the tone, what is slow is that of voices against one
 * another.
 */
function fluctuationDb(
  partials: readonly Float64Array[],
  first: number,
  last: number,
  reach: number,
  sizeOf: (strays: Float64Array) => number,
): number {
  const steps = Array.from({ length: Math.max(0, last - first - 2 * reach) }, (_, i) => first + reach + i);
  if (steps.length === 0) return 0;
  const strays = partials.map((line) =>
    Float64Array.from(steps, (i) => line[i] - (line[i - reach] + line[i + reach]) / 2),
  );
  const common = steps.map((_, i) => median(strays.map((stray) => stray[i])));
  const alone = median(strays.map((stray) => sizeOf(stray.map((db, i) => db - common[i]))));
  // Of few partials, the middle one takes a part of each with it.
  return strays.length > 1 ? alone / Math.sqrt(1 - 1 / strays.length) : 0;
}

/** Share of the values that is left out, and how small the rest is where all that was in them. */
const LEFT_OUT = 0.1;
const ONCE = 0.4;

const rootMeanSquare = (values: Float64Array) => Math.sqrt(mean(values.map((x) => x * x)));

/** Root mean square; 0 where a few values have nearly all of it, as at the click of a note that is let go. */
function lastingSize(values: Float64Array): number {
  const squares = values.map((x) => x * x).sort();
  const usual = mean(squares.subarray(0, Math.ceil((1 - LEFT_OUT) * squares.length)));
  const all = mean(squares);
  return usual < ONCE ** 2 * all ? 0 : Math.sqrt(all);
}
