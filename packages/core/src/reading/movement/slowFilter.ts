import type { Material } from '../material';
import { steadyOctaves } from '../spectra/steadyCutoff';
import { type Motion, motion } from './motion';
import { findSlowTurn } from './slowTurn';

/** A sine of the cutoff explains at least so much of what it does, and is at least so deep, octaves. */
const LEAST_EXPLAINED = 0.75;
const LEAST_DEPTH = 0.3;
/** One turn is more often an envelope's than four are. */
const SLOW_SURE = 0.6;

/**
 * A filter that goes round too slowly to be seen to come round, by the cutoffs of the frames of one note;
 * undefined where they do not go as a sine does.
 */
export function findSlowFilter({
  filter,
  partials,
  movement,
  fitted,
  piece,
  fromSeconds,
  toSeconds,
}: Material): Motion | undefined {
  if (!filter || !movement) return undefined;
  const { onsetSeconds } = fitted;
  const octaves = steadyOctaves(filter, partials, onsetSeconds + (movement.space.echo?.seconds ?? Infinity));
  const within = octaves.map((octave, t) =>
    filter.seconds[t] > fromSeconds && filter.seconds[t] < toSeconds ? octave : NaN,
  );
  const turn = findSlowTurn(filter.seconds, within);
  if (!turn || turn.explained < LEAST_EXPLAINED || turn.depth < LEAST_DEPTH) return undefined;
  const { rateHz, depth, middle, startCycles, explained } = turn;
  return motion({ bpm: piece.tempo.bpm, onsetSeconds }, 'brightness', 'filter', {
    rateHz,
    depth: 2 * depth,
    unit: 'octaves',
    middle: 2 ** middle,
    startCycles,
    shape: 'sine',
    confidence: SLOW_SURE * explained,
  });
}
