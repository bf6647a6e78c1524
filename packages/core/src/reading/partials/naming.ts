import type { FittedContour } from '../level/fittedContour';
import type { Fundamental } from '../pitch/fundamental';
import type { Sidebands } from '../sidebands/sidebands';
import { averageLevelsDb } from './averageLevels';
import { halfLatticeLevels } from './halfLattice';
import type { PartialFrames } from './partialFrames';
import { type PlainSources, fitSources } from './plainSources';
import { isSubUnderRich, rootMultiple } from './root';

/** The pitch that a musician would name, where the period of the whole is another. */
export interface Root {
  hz: number;
  /** Of the fundamental; a whole number where the root is one of its partials. */
  multiple: number;
}

/** What a note is made of, as waveforms and as a name. */
export interface Named {
  root: Root;
  /** Plain waveforms that add up to the partials, which are multiples of `lowestHz`. */
  sources: (PlainSources & { lowestHz: number }) | undefined;
}

/** A note whose partials were measured. */
export interface Measured {
  mono: Float64Array;
  sampleRateHz: number;
  fundamental: Fundamental;
  partials: PartialFrames;
  fitted: FittedContour;
  sidebands: Sidebands;
  fromSeconds: number;
  toSeconds: number;
}

/**
 * Names a note: by its carrier where it is FM, by what was multiplied where it is rung; else by the main one
 * of the waveforms that its partials are the sum of, whose octave a sub under it does not change.
 */
export function nameNote(note: Measured): Named {
  const { mono, sampleRateHz, fundamental, partials, fitted, sidebands, fromSeconds, toSeconds } = note;
  const { f0Hz } = fundamental;
  if (sidebands.fm) return { root: rootAt(sidebands.fm.carrierHz, f0Hz), sources: undefined };
  if (sidebands.ring) {
    const { f0Hz: lowestHz, levelsDb } = sidebands.ring;
    const sources = fitSources(levelsDb);
    return { root: rootAt(lowestHz, f0Hz), sources: sources && { ...sources, lowestHz } };
  }
  const half = halfLatticeLevels(mono, sampleRateHz, f0Hz, [fromSeconds, toSeconds]);
  if (half) {
    const sources = fitSources(half);
    return { root: { hz: f0Hz, multiple: 1 }, sources: sources && { ...sources, lowestHz: f0Hz / 2 } };
  }
  const levelsDb = averageLevelsDb(partials, fitted);
  const isSubbed = isSubUnderRich(levelsDb);
  // What stands between the partials of a rich tone over its sub is what a drive made of both.
  const sources = fitSources(isSubbed ? levelsDb.map((db, i) => (i > 0 && i % 2 === 0 ? -120 : db)) : levelsDb);
  const multiple = isSubbed ? 2 : rootMultiple(levelsDb, sources);
  return { root: { hz: multiple * f0Hz, multiple }, sources: sources && { ...sources, lowestHz: f0Hz } };
}

const WHOLE = 0.01;

function rootAt(hz: number, f0Hz: number): Root {
  const multiple = hz / f0Hz;
  const whole = Math.round(multiple);
  return { hz, multiple: Math.abs(multiple - whole) < WHOLE ? whole : multiple };
}
