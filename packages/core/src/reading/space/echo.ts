import { type LevelContour, levelOfWaveform } from '../level/levelContour';
import { divisionOf } from '../piece/heardDivision';
import type { Reading } from '../schema';
import { type Copy, LEAST_SECONDS, copiesOf } from './copies';
import { type Edges, edgesOf } from './edges';
import { type Fit, type Repeats, evenFallMissesDb, fitRepeats, isRepeating, partsOf, power } from './repeats';
import { STEP_SECONDS, levelsInSteps, tailOf, tailStarts } from './tail';

export type Echo = NonNullable<Reading['traits']['space']['echo']>;

export interface FoundEcho {
  echo: Omit<Echo, 'changesSides'>;
  confidence: number;
  repeats: Repeats;
  /** Where the tone is let go, or before it comes back. */
  fromSeconds: number;
  /** Whether the tone itself is louder than its repeats for as long as it is held. */
  isHeld: boolean;
  /** Whether its wave is heard again. */
  isHeardAgain: boolean;
}

/**
 * The echo that a note comes back by, and how sure that is; undefined without one. Until it is let go, the
 * tone itself is what the level has beside its repeats; then it falls evenly, and all else is repeats of what
 * was. Time, level, feedback and release are those that miss the rest of the level least (our own method;
 * powers add up, as those of sounds that have nothing to do with one another). Where the wave itself is heard
 * again, that says the time; repeats that an echo has changed too much for it are told by the level alone.
 *
 * @param level whose clock begins with its wave
 */
export function echoOf(level: LevelContour, bpm: number | null): FoundEcho | undefined {
  const edges = level.waveform && edgesOf(level.waveform);
  // A tone and its repeats are out of step by another part of a turn for every partial: of all taken together
  // the powers add up, where that of the fundamental alone says how the two happen to meet.
  const levels = levelsInSteps(edges ? levelOfWaveform(edges) : level);
  const whole = levelsInSteps(level);
  const heardAgain = edges ? echoesHeardAgain([levels, whole], edges) : [];
  const isHeardAgain = heardAgain.length > 0;
  const best = isHeardAgain ? bestOfKnown(heardAgain) : bestOfLevel(echoesOfLevel(levels));
  if (!best) return undefined;
  const repeats = asHeard(whole, best);
  const echo = inWords({ ...repeats, steps: best.steps }, bpm);
  const confidence = confidenceOf(best);
  const { own, returned } = partsOf(levels.map(power), best.from, best);
  const isHeld = own[best.from] > HELD * returned[best.from] && returned[best.from] > 0;
  return { echo, confidence, repeats, fromSeconds: best.from * STEP_SECONDS, isHeld, isHeardAgain };
}

/** Repeats as a trait. */
export function inWords({ steps, feedbackDb, levelDb }: Repeats, bpm: number | null): FoundEcho['echo'] {
  const seconds = steps * STEP_SECONDS;
  return {
    seconds: Number(seconds.toPrecision(4)),
    division: (bpm === null ? undefined : divisionOf(1 / seconds, bpm)) ?? null,
    feedback: Number((10 ** (feedbackDb / 20)).toFixed(3)),
    levelDb: Number(levelDb.toFixed(1)),
  };
}

export const confidenceOf = ({ missedDb }: Fit) => Math.max(0.5, Math.min(0.95, 1 - missedDb / 6));

/** Repeats that an echo has made darker are softer at their edges than they are as a whole. */
function asHeard(levels: Float64Array, found: Fit): Repeats {
  const fits = fitRepeats(levels, found.from, SEEN_FALL_DB, { steps: found.steps, isExact: true }).filter(isRepeating);
  return fits.length > 0 && fits[0].missedDb < MOST_MISSED_DB ? fits[0] : found;
}

const AS_GOOD = 1.6;
const AS_GOOD_DB = 0.4;
/** The end of a tail is soon met well; of times that are known, this is as good. */
const ROUGH_DB = 1.3;

/** From the first repeat on, a tone with repeats looks the same but for what it says of the first. */
const earliest = (fits: readonly Fit[]) => {
  const from = Math.min(...fits.map((fit) => fit.from));
  return fits.filter((fit) => fit.from === from);
};
const leastMissing = (fits: readonly Fit[]) => fits.reduce((a, b) => (b.missedDb < a.missedDb ? b : a));
const goodOf = (fits: readonly Fit[], roughDb: number) => {
  const mostDb = Math.max(roughDb, AS_GOOD * leastMissing(fits).missedDb + AS_GOOD_DB);
  return fits.filter(({ missedDb }) => missedDb < mostDb);
};

function bestOfLevel(fits: readonly Fit[]): Fit | undefined {
  if (fits.length === 0) return undefined;
  const good = goodOf(fits, 0);
  return withTimeOf(leastMissing(earliest(good)), good);
}

/** A part of the time that the wave tells of does as well as that. */
function bestOfKnown(fits: readonly Fit[]): Fit {
  const good = goodOf(fits, ROUGH_DB);
  const first = earliest(good);
  const longest = Math.max(...first.map(({ steps }) => steps));
  return withTimeOf(leastMissing(first.filter(({ steps }) => isSame(steps, longest))), good);
}

/** The time is that of the one that misses least, wherever the tone is taken to be let go. */
const withTimeOf = (best: Fit, good: readonly Fit[]): Fit => {
  const { steps } = leastMissing(good.filter((fit) => isSame(fit.steps, best.steps)));
  return { ...best, steps };
};

/** By how much, in power, a tone that is held is over its repeats. */
const HELD = 2;
/** Times that are one, log. */
const SAME_TIME = 0.05;

const MOST_MISSED_DB = 2;
/** More may be missed at the edges of gaps, where a fall and a room miss most: a share of that. */
const FAR_BETTER = 0.3;
/** One repeat and no more is soon found in the beating of voices: it has to be met better. */
const ONLY_ONE_DB = -18;
const ONE_MISSED_DB = 0.8;
/** A tone that goes on for a while looks like one repeat, as loud as it was. */
const SOFTER_DB = -5;
/** By the time that it comes, the tone itself has to have fallen so far under it. */
const STANDS_OUT_DB = 6;
/** Of what an even fall, and a room behind it, misses. */
const LEAST_GAIN = 0.62;
/** Where those miss no more, nothing comes back. */
const LEAST_UNEVEN_DB = 0.9;

/** How much is looked at of the fall that a tail ends with, dB. */
const SEEN_FALL_DB = 25;
const BEGUN_FALL_DB = 8;

/** Ways in which a level comes back after the times at which its wave does. */
function echoesHeardAgain(ways: readonly Float64Array[], edges: Edges): Fit[] {
  const starts = ways.map(tailStarts);
  const copies = copiesOf(
    edges,
    starts.flat().map((start) => start * STEP_SECONDS),
    Math.max(...ways.map((levels) => tailOf(levels, 0))) * STEP_SECONDS,
  );
  return timesOf(copies).flatMap((time) =>
    ways.flatMap((levels, way) =>
      starts[way].flatMap((from) => {
        const fit = fitAt(levels, from, time);
        if (!fit) return [];
        if (time.isAlways) return surely([fit], levels, from, SEEN_FALL_DB);
        return isRepeating(fit) && standsOut(fit) && fit.missedDb < MOST_MISSED_DB ? [fit] : [];
      }),
    ),
  );
}

/** A tone that is always like itself is heard again after any number of periods: the level says which. */
function fitAt(levels: Float64Array, from: number, { seconds, isAlways }: Omit<Copy, 'left'>): Fit | undefined {
  const steps = seconds / STEP_SECONDS;
  const [exact] = fitRepeats(levels, from, SEEN_FALL_DB, { steps, isExact: true });
  if (!exact || !isAlways) return exact;
  const [near] = fitRepeats(levels, from, SEEN_FALL_DB, { steps, isExact: false });
  return near.missedDb < FAR_LESS * exact.missedDb ? near : exact;
}

const FAR_LESS = 0.7;
/** What is heard again may be a later repeat than the first. */
const MOST_TURNS = 4;
const MOST_TIMES = 3;

/** Times to try, of those that copies come after. */
function timesOf(copies: readonly Copy[]): Omit<Copy, 'left'>[] {
  const times: Copy[] = [];
  for (const copy of copies)
    if (times.length < MOST_TIMES && !times.some(({ seconds }) => isSame(seconds, copy.seconds))) times.push(copy);
  return times
    .flatMap(({ seconds, isAlways }) =>
      Array.from({ length: MOST_TURNS }, (_, k) => ({ seconds: seconds / (k + 1), isAlways })),
    )
    .filter(({ seconds }) => seconds > LEAST_SECONDS);
}

const isSame = (a: number, b: number) => Math.abs(Math.log(a / b)) < SAME_TIME;

function echoesOfLevel(levels: Float64Array): Fit[] {
  const endless = echoesIn(levels, SEEN_FALL_DB);
  // Of a few repeats and no more, the last fall says that there are none.
  return endless.length > 0 ? endless : echoesIn(levels, BEGUN_FALL_DB).filter((fit) => isSofter(fit) && !isOne(fit));
}

const echoesIn = (levels: Float64Array, seenFallDb: number) =>
  tailStarts(levels).flatMap((from) => surely(fitRepeats(levels, from, seenFallDb), levels, from, seenFallDb));

/** Those that an even fall from the same place is no match for. */
function surely(fits: readonly Fit[], levels: Float64Array, from: number, seenFallDb: number): Fit[] {
  const likely = fits.filter((fit) => isRepeating(fit) && standsOut(fit) && (!isOne(fit) || isSofter(fit)));
  if (likely.length === 0) return [];
  const evenDb = evenFallMissesDb(levels, from, seenFallDb);
  return likely.filter((fit) => isMuchBetter(fit, evenDb));
}

const isOne = ({ feedbackDb }: Fit) => feedbackDb < ONLY_ONE_DB;
const isSofter = ({ levelDb }: Fit) => levelDb < SOFTER_DB;

const standsOut = ({ levelDb, steps, releaseSteps }: Fit) => levelDb > (-60 * steps) / releaseSteps + STANDS_OUT_DB;

function isMuchBetter(fit: Fit, evenDb: number): boolean {
  const mostDb = isOne(fit) ? ONE_MISSED_DB : MOST_MISSED_DB;
  return (
    evenDb >= LEAST_UNEVEN_DB && fit.missedDb < Math.max(FAR_BETTER * evenDb, Math.min(mostDb, LEAST_GAIN * evenDb))
  );
}
