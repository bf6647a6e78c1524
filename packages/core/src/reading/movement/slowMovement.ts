import type { PartialFrames } from '../partials/partialFrames';
import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import { mean } from '../statistics';
import { type FoldedTurn, MIN_PARTIALS, PARTS, type Path, lookedAt, loudOf } from './foldedTurn';
import { followNotches, scanNotches } from './logPaths';
import { explainedOtherwise } from './movementCause';

/** Notches that go round so slowly that little of it repeats, by the way that they go. */
export interface SlowMovement extends Path {
  mover: 'notch' | 'phaser';
  rateHz: number;
  /** The share that the best of other ways explains. */
  next: number;
  levelAt: NotchedLevel;
}

/** What notches do to a frequency at a time, dB. */
export type NotchedLevel = (hz: number, seconds: number) => number;

/** Less than half a turn is no more than a way from here to there; what makes more repeats. */
const CYCLES = [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 2.5, 3];
/** What partials do against one another beside a tilt, as the root of its mean square in dB: less is none. */
const LEAST_DB = 1.2;
/** And its share of all that they do against one another: the rest is a cutoff's. */
const LEAST_BESIDE_TILT = 0.35;
/** What a way has to explain, and what it may leave of what the next best kind of way leaves. */
const LEAST_EXPLAINED = 0.82;
const MOST_LEFT = 0.6;
/** What a coarse look has to explain to be gone on with, and over how many parts of the time it looks. */
const LEAST_AT_FIRST = 0.45;
const COARSE_PARTS = 16;
const PHASER_LEAD = 0.05;

/**
 * What goes round the partials of a note so slowly that little of it repeats: notches, combs. Their levels
 * over time, less what each has all along and what all do alike at a time, are held against ways of half a
 * turn to three (our own method: the fits of folded turns, unfolded).
 */
export function findSlowMovement(
  envelopes: PartialEnvelopes,
  fromSeconds: number,
  toSeconds: number,
): SlowMovement | undefined {
  const coarse = unfold(envelopes, fromSeconds, toSeconds, COARSE_PARTS);
  if (!coarse) return undefined;
  const beside = squareOf(withoutTilt(coarse));
  if (beside < LEAST_DB ** 2 || beside < LEAST_BESIDE_TILT * squareOf(coarse.levelsDb)) return undefined;
  const shares = scanNotches(coarse, CYCLES);
  const most = Math.max(...shares);
  if (most < LEAST_AT_FIRST) return undefined;
  const turn = { ...unfold(envelopes, fromSeconds, toSeconds, PARTS)!, cycles: CYCLES[shares.indexOf(most)] };
  const { notch, phaser } = followNotches(turn);
  // Where both say as much it is one notch.
  const mover = phaser.explained > notch.explained + PHASER_LEAD ? 'phaser' : 'notch';
  const { response, strength, cycles, ...path } = { notch, phaser }[mover];
  const next = explainedOtherwise({ ...turn, cycles });
  if (path.explained < LEAST_EXPLAINED || 1 - path.explained > MOST_LEFT * (1 - next)) return undefined;
  const rateHz = cycles / (toSeconds - fromSeconds);
  const { middle, width, startCycles } = path;
  const levelAt: NotchedLevel = (hz, seconds) => {
    const turned = Math.sin(2 * Math.PI * (rateHz * (seconds - fromSeconds) + startCycles));
    return strength * response(hz, middle * 2 ** ((width / 2) * turned));
  };
  return { ...path, mover, next, rateHz, levelAt };
}

/** The levels of the partials over the time itself. */
function unfold(
  { f0Hz, seconds, partials }: PartialEnvelopes,
  fromSeconds: number,
  toSeconds: number,
  count: number,
): FoldedTurn | undefined {
  const inside = [...seconds.keys()].filter((i) => seconds[i] >= fromSeconds && seconds[i] < toSeconds);
  if (inside.length < 2 * PARTS) return undefined;
  const powers = lookedAt(partials, f0Hz).map(powersOf);
  const { loud, strongest } = loudOf(powers, inside);
  if (loud.length < MIN_PARTIALS) return undefined;
  const parts = Array.from({ length: count }, (): number[] => []);
  for (const i of inside) parts[Math.floor(((seconds[i] - fromSeconds) / (toSeconds - fromSeconds)) * count)].push(i);
  const levels = loud.map((n) =>
    Float64Array.from(parts, (part) => 10 * Math.log10(mean(part.map((i) => powers[n][i])) / strongest + 1e-6)),
  );
  const usual = levels.map(mean);
  const common = levels[0].map((_, part) => mean(levels.map((line, n) => line[part] - usual[n])));
  const levelsDb = levels.map((line, n) => line.map((db, part) => db - usual[n] - common[part]));
  return { f0Hz, partials: loud.map((n) => n + 1), levelsDb, cycles: 1, isApart: true };
}

/** What is left at each time once a straight line over the logarithm of frequency is off. */
function withoutTilt({ partials, levelsDb }: FoldedTurn): Float64Array[] {
  const octaves = partials.map(Math.log2);
  const middle = mean(octaves);
  const width = octaves.reduce((sum, x) => sum + (x - middle) ** 2, 0);
  const tilts = levelsDb[0].map(
    (_, part) => octaves.reduce((sum, x, n) => sum + (x - middle) * levelsDb[n][part], 0) / width,
  );
  return levelsDb.map((line, n) => line.map((db, part) => db - tilts[part] * (octaves[n] - middle)));
}

const squareOf = (lines: readonly Float64Array[]) => mean(lines.map((line) => mean(line.map((db) => db * db))));

/** What is under this is noise as much as it is a partial. */
const MOST_LIFT_DB = 18;

/** Partials as they were before notches went through them. */
export function withoutNotches(frames: PartialFrames, levelAt: NotchedLevel): PartialFrames {
  const { seconds, count, f0Hz } = frames;
  const amplitudes = frames.amplitudes.map((amplitude, i) => {
    const levelDb = levelAt(((i % count) + 1) * f0Hz, seconds[Math.floor(i / count)]);
    return amplitude * 10 ** (Math.min(MOST_LIFT_DB, -levelDb) / 20);
  });
  return { ...frames, amplitudes };
}
