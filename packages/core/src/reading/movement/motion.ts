import { decibelsFromGain } from '../../dsp/decibels';
import { hannResponse } from '../../dsp/windows';
import { type Lines, findCommonRate } from '../commonRate';
import { divisionOf } from '../piece/heardDivision';
import type { LevelContour } from '../level/levelContour';
import { combPath, growingDelayShare } from './combPath';
import { type FoldedTurn, MIN_PARTIALS, foldPartials, lookedAt } from './foldedTurn';
import { type MoverFit, findMover, lowsOf } from './movementCause';
import { type PartialLines, followPulseWidth } from './pulseWidth';
import type { RoundBrightness } from './roundBrightness';
import { type NotchedLevel, type SlowMovement, findSlowMovement } from './slowMovement';
import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import { type PeriodicMovement, findPeriodicMovement, nearestMovementShape } from './periodicMovement';
import type { Reading } from '../schema';
import { median } from '../statistics';

export type Motion = Reading['traits']['motion'][number];

/** Movements that are notches themselves. */
const COMBS: readonly Motion['cause'][] = ['chorus', 'phaser', 'notch', 'beating', 'pulseWidth'];
export const isCombed = ({ cause }: Motion): boolean => COMBS.includes(cause);

/** What is known of a tone when its movements are looked for. */
export interface Moving {
  level: LevelContour;
  envelopes: PartialEnvelopes;
  unison: Reading['traits']['unison'];
  vibrato: PeriodicMovement | undefined;
  /** Brightness that goes round and hardly does anything else. */
  round: RoundBrightness | undefined;
  /** Tempo that divisions are told at. */
  bpm: number | null;
  onsetSeconds: number;
  /** Once the attack is over, until the end of the note. */
  fromSeconds: number;
  toSeconds: number;
}

const STEP_SECONDS = 0.01;
const SLOWEST_HZ = 0.15;
const FASTEST_HZ = 16;
const MIN_SECONDS = 0.4;
/** Movements of less are not heard. */
const LEAST_LEVEL_DB = 0.8;
const LEAST_EXPLAINED = 0.6;
/** Two or three turns can look like a movement by chance. */
const FEW_TURNS = 3.2;
const LEAST_EXPLAINED_OF_FEW = 0.85;
const QUIET_DB = -60;
const MIN_TURNS = 1.7;
/** What a comb has to explain, and how much more than anything else. */
const LEAST_OF_COMBS = 0.22;
const LEAST_OF_FEW_COMBS = 0.45;
const COMB_LEAD = 1.8;
/** A comb that explains less gives way to a brightness that plainly goes round; known ones come to more. */
const SURE_COMB = 0.5;
/** How sure a cause is that nothing but likelihood speaks for. */
const LIKELIEST = 0.5;
/** The half of a rate has to explain more by this. */
const HALF_RATE_LEAD = 0.05;

const BEATING_SLACK_TURNS = 0.3;

/** The movements of a note. */
export interface Moved {
  motion: Motion[];
  /** What notches that go round slowly do to its partials. */
  notched: NotchedLevel | undefined;
  /** Whether the brightness goes round and does nothing else. */
  isRound: boolean;
}

/** Every periodic movement of a note, with what most likely makes it. */
export function measureMotion(moving: Moving): Moved {
  const { vibrato, envelopes, toSeconds, fromSeconds } = moving;
  const found: Motion[] = [];
  if (vibrato) {
    const { rateHz, depth, shape, explained } = vibrato;
    found.push(motion(moving, 'pitch', 'vibrato', { rateHz, depth, unit: 'cents', shape, confidence: explained }));
  }
  if (toSeconds - fromSeconds < MIN_SECONDS) return { motion: found, notched: undefined, isRound: false };
  const lines = linesOf(envelopes, fromSeconds, toSeconds);
  const isPoor = lines.values.length < MIN_PARTIALS;
  const explained = isPoor ? motionOfLevel(moving) : (motionOfPulse(moving, lines) ?? motionOfPartials(moving, lines));
  const round = isPoor || explained ? undefined : goingRound(moving);
  const repeating = explained ?? round;
  const slow = isPoor || repeating ? undefined : slowNotchesOf(moving);
  const other = repeating ?? (slow ? motionOfNotches(moving, slow) : isPoor ? undefined : beatingOf(moving));
  return { motion: other ? [...found, other] : found, notched: slow?.levelAt, isRound: round !== undefined };
}

/** The movement of the partials' levels that repeats, by what moves them. */
function motionOfPartials(moving: Moving, lines: Lines): Motion | undefined {
  const { envelopes } = moving;
  const explanation = explainPartials(moving, lines);
  if (!explanation) return undefined;
  const { rateHz, turn, fit } = explanation;
  if (fit.mover === 'chorus' && fit.explained < SURE_COMB && goingRound(moving)) return undefined;
  const confidence = certaintyOf(fit);
  if (fit.mover === 'common' || fit.mover === 'lows') {
    const isLow = fit.mover === 'lows';
    const level = overallTurn(isLow ? lowsOf(turn, fit.middle) : turn);
    const depth = rangeOf(level) / hannResponse(rateHz * envelopes.windowSeconds);
    const shape = nearestMovementShape(level.map((db) => 10 ** (db / 20)));
    const cause = isDucking(moving, rateHz, shape) ? 'ducking' : 'tremolo';
    const middle = isLow ? fit.middle : undefined;
    const startCycles = shape === 'rising' ? startOfRise(level) : undefined;
    return motion(moving, 'loudness', cause, { rateHz, depth, unit: 'dB', middle, startCycles, shape, confidence });
  }
  const { unit, scale } = SCALES[fit.mover];
  return motion(moving, 'brightness', fit.mover, {
    rateHz: fit.mover === 'filter' ? nearer(moving, rateHz) : rateHz,
    depth: scale * fit.width,
    unit,
    middle: scale * fit.middle,
    startCycles: fit.startCycles,
    shape: 'sine',
    confidence,
  });
}

/**
 * A brightness that goes round though nothing explains it: behind a curve, or of more than one thing, a
 * filter that goes round does not look like one any more, and it is still the likeliest.
 */
function goingRound(moving: Moving): Motion | undefined {
  const { round, unison } = moving;
  // Voices beat, and few of them at a common rate.
  if (!round || unison.voices !== null) return undefined;
  const { rateHz, depth, startCycles, shape, explained } = round;
  const told = { rateHz, depth: 2 * depth, unit: 'octaves', startCycles, shape } as const;
  return motion(moving, 'brightness', 'filter', { ...told, confidence: LIKELIEST * explained });
}

/** Rates that are this near are one. */
const SAME_RATE = 0.02;

/** What a brightness that goes round says of a rate, which is nearer than what single partials do. */
const nearer = ({ round }: Moving, rateHz: number): number =>
  round && Math.abs(round.rateHz / rateHz - 1) < SAME_RATE ? round.rateHz : rateHz;

/** Notches that go round too slowly to repeat; of voices that beat every partial goes its own way. */
const slowNotchesOf = ({ envelopes, fromSeconds, toSeconds, unison }: Moving): SlowMovement | undefined =>
  unison.voices === null ? findSlowMovement(envelopes, fromSeconds, toSeconds) : undefined;

function motionOfNotches(moving: Moving, slow: SlowMovement): Motion {
  const { rateHz, mover, width, middle, startCycles } = slow;
  return motion(moving, 'brightness', mover, {
    rateHz,
    depth: width,
    unit: 'octaves',
    middle,
    // The way is told from where it is first looked at on.
    startCycles: startCycles - rateHz * moving.fromSeconds,
    shape: 'sine',
    confidence: certaintyOf(slow),
  });
}

/** How what moves is told. Middles of cutoffs are in Hz as they are. */
const SCALES = {
  filter: { unit: 'octaves', scale: 1 },
  notch: { unit: 'octaves', scale: 1 },
  phaser: { unit: 'octaves', scale: 1 },
  chorus: { unit: 'ms', scale: 1000 },
} as const;

/** The width of a pulse that goes round. */
function motionOfPulse(moving: Moving, lines: PartialLines): Motion | undefined {
  const round = followPulseWidth(lines);
  if (!round) return undefined;
  const { rateHz, middle, depth, startCycles, explained } = round;
  return motion(moving, 'brightness', 'pulseWidth', {
    rateHz,
    depth: 200 * depth,
    unit: '%',
    middle: 100 * middle,
    startCycles,
    shape: 'sine',
    confidence: explained,
  });
}

interface Explanation {
  rateHz: number;
  turn: FoldedTurn;
  fit: MoverFit;
}

function explainPartials(moving: Moving, lines: Lines): Explanation | undefined {
  const { envelopes, fromSeconds, toSeconds, unison } = moving;
  const rate = findCommonRate(lines, SLOWEST_HZ, FASTEST_HZ);
  if (!rate || rate.explained < LEAST_OF_COMBS) return undefined;
  const least = rate.turns < FEW_TURNS ? LEAST_EXPLAINED_OF_FEW : LEAST_EXPLAINED;
  // Detuned voices are combs as well, whose delays grow for ever.
  const leastOfCombs = unison.detuneCents === null ? LEAST_OF_COMBS : LEAST_EXPLAINED;
  const at = (rateHz: number): Explanation | undefined => {
    const turn = foldPartials(envelopes, rateHz, fromSeconds, toSeconds);
    if (!turn || deepestOf(turn) < LEAST_LEVEL_DB) return undefined;
    // Fits of the other movers take long: what does not repeat well has to be a comb.
    const comb = combPath(turn);
    if (rate.explained <= least && comb.explained <= leastOfCombs) return undefined;
    return { rateHz, turn, fit: findMover(turn, comb) };
  };
  const whole = at(rate.rateHz);
  if (whole && whole.fit.mover !== 'chorus') {
    return rate.explained > least && whole.fit.explained > LEAST_EXPLAINED ? whole : undefined;
  }
  // Combs are known by how they fit, since they move too quickly to fold well; and pass the same place twice
  // a turn.
  const half = rate.rateHz / 2 > MIN_TURNS / (toSeconds - fromSeconds) ? at(rate.rateHz / 2) : undefined;
  const comb = half && half.fit.explained > (whole?.fit.explained ?? 0) + HALF_RATE_LEAD ? half : whole;
  const leads = comb?.fit.mover === 'chorus' && comb.fit.explained > COMB_LEAD * comb.fit.next;
  const isFew = comb && comb.rateHz * (toSeconds - fromSeconds) < FEW_TURNS;
  const isComb = leads && comb.fit.explained > (isFew ? Math.max(LEAST_OF_FEW_COMBS, leastOfCombs) : leastOfCombs);
  return isComb && comb.fit.explained > beatingShare(moving) ? comb : undefined;
}

/** How much of the movement of the partials two detuned voices explain, 0..1. */
function beatingShare({ envelopes, fromSeconds, toSeconds, unison }: Moving): number {
  if (unison.voices !== 2 || unison.beatHz === null) return 0;
  let most = 0;
  // High partials fold at the very rate only, which is known to a part of a turn.
  for (let turns = -BEATING_SLACK_TURNS; turns <= BEATING_SLACK_TURNS; turns += BEATING_SLACK_TURNS / 4) {
    const turn = foldPartials(envelopes, unison.beatHz + turns / (toSeconds - fromSeconds), fromSeconds, toSeconds);
    if (turn) most = Math.max(most, growingDelayShare(turn));
  }
  return most;
}

/** Two voices beat: the fundamental at the distance of the two, partial n at n times that. */
function beatingOf(moving: Moving): Motion | undefined {
  const { envelopes, fromSeconds, toSeconds, unison } = moving;
  if (unison.voices !== 2 || unison.beatHz === null) return undefined;
  const rateHz = unison.beatHz;
  const turn = foldPartials(envelopes, rateHz, fromSeconds, toSeconds);
  if (!turn) return undefined;
  const seen = Math.min(1, (toSeconds - fromSeconds) * rateHz);
  return motion(moving, 'loudness', 'beating', {
    rateHz,
    depth: rangeOf(turn.levelsDb[0]),
    unit: 'dB',
    shape: 'sine',
    confidence: seen * unison.confidence,
  });
}

const rangeOf = (values: Float64Array) => Math.max(...values) - Math.min(...values);

const deepestOf = ({ levelsDb }: FoldedTurn) => Math.max(...levelsDb.map(rangeOf));

/** With too few partials to tell causes apart: the level alone. */
function motionOfLevel(moving: Moving): Motion | undefined {
  const { level, fromSeconds, toSeconds } = moving;
  const step = Math.max(1, Math.round(STEP_SECONDS / level.hopSeconds));
  const from = Math.ceil(fromSeconds / level.hopSeconds);
  const to = Math.min(level.rms.length, Math.floor(toSeconds / level.hopSeconds));
  const places = Array.from({ length: Math.max(0, Math.floor((to - from) / step)) }, (_, i) => from + i * step);
  const movement = findPeriodicMovement(
    Float64Array.from(places, (place) => place * level.hopSeconds),
    Float64Array.from(places, (place) => decibelsFromGain(level.rms[place], QUIET_DB)),
    { minHz: SLOWEST_HZ, maxHz: FASTEST_HZ, leastDepth: LEAST_LEVEL_DB / 2 },
  );
  if (!movement || movement.turns < FEW_TURNS) return undefined;
  const { rateHz, depth, shape, explained } = movement;
  const cause = isDucking(moving, rateHz, shape) ? 'ducking' : 'tremolo';
  return motion(moving, 'loudness', cause, {
    rateHz,
    depth: 2 * depth,
    unit: 'dB',
    shape,
    confidence: 0.6 * explained,
  });
}

/** How sure a cause is: what it leaves against what the next best leaves, and how much it explains at all. */
const certaintyOf = ({ explained, next }: Pick<MoverFit, 'explained' | 'next'>) =>
  (1 - (0.5 * (1 - explained)) / Math.max(1e-6, 1 - next)) * Math.min(1, 0.4 + explained);

/** Levels of the partials over time in steps, in dB. */
function linesOf(
  { f0Hz, seconds, hopSeconds, partials }: PartialEnvelopes,
  from: number,
  to: number,
): Lines & PartialLines {
  const powers = lookedAt(partials, f0Hz).map(powersOf);
  const strongest = Math.max(...powers.map((power) => power.reduce((a, b) => Math.max(a, b), 0)));
  const step = Math.max(1, Math.round(STEP_SECONDS / hopSeconds));
  const first = seconds.findIndex((at) => at >= from);
  const last = seconds.findLastIndex((at) => at <= to);
  const count = Math.max(0, Math.floor((last - first) / step));
  const floor = strongest * 10 ** (QUIET_DB / 10);
  const loud = [...powers.keys()].filter((n) => powers[n].subarray(first, last).some((x) => x > floor));
  return {
    seconds: Float64Array.from({ length: count }, (_, i) => seconds[first + i * step]),
    partials: loud.map((n) => n + 1),
    values: loud.map((n) =>
      Float64Array.from({ length: count }, (_, i) => {
        let sum = 0;
        for (let k = 0; k < step; k++) sum += powers[n][first + i * step + k];
        return 10 * Math.log10(Math.max(sum / step, floor));
      }),
    ),
  };
}

/** What most partials do within a turn, dB. */
const overallTurn = ({ levelsDb }: FoldedTurn) =>
  levelsDb[0].map((_, part) => median(levelsDb.map((line) => line[part])));

/** What falls at once on the beat and comes back slowly makes room for a kick. */
function isDucking({ bpm }: Moving, rateHz: number, shape: PeriodicMovement['shape']): boolean {
  if (shape !== 'rising') return false;
  const division = bpm === null ? undefined : divisionOf(rateHz, bpm);
  return division === undefined || ON_THE_BEAT.includes(division);
}

const ON_THE_BEAT = ['1/8', '1/4', '1/2', '1 bar'];

/** Where a rise that begins anew every turn stands at the start of the signal: it is lowest as it begins. */
const startOfRise = (level: Float64Array) => -level.indexOf(Math.min(...level)) / level.length;

interface Told {
  rateHz: number;
  depth: number;
  unit: Motion['unit'];
  middle?: number;
  /** At the start of the signal. */
  startCycles?: number;
  shape: string;
  confidence: number;
}

/** A movement as it is told. */
export function motion(
  { bpm, onsetSeconds }: Pick<Moving, 'bpm' | 'onsetSeconds'>,
  of: Motion['of'],
  cause: Motion['cause'],
  told: Told,
): Motion {
  const { rateHz, depth, unit, middle, startCycles, shape, confidence } = told;
  return {
    of,
    rateHz: Number(rateHz.toPrecision(5)),
    division: (bpm === null ? undefined : divisionOf(rateHz, bpm)) ?? null,
    depth: Number(depth.toPrecision(4)),
    unit,
    middle: middle === undefined ? null : Number(middle.toPrecision(4)),
    startCycles: startCycles === undefined ? null : partOfTurn(startCycles + rateHz * onsetSeconds),
    shape,
    cause,
    confidence: Math.max(0, Math.min(1, Number(confidence.toFixed(3)))),
  };
}

const partOfTurn = (turns: number) => Number((turns - Math.floor(turns)).toFixed(3)) % 1;
