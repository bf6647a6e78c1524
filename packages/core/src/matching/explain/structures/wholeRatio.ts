import { explainHarmonicFm } from '../harmonicFm';
import type { Evidence } from '../hypothesis';
import { type StructureKind, isNot } from './structure';

/** A pair of sines that every frame is this like is thought of where waveforms would do, too. */
const SURE_PAIR = 0.94;

/** Sines at a whole ratio, whose sidebands are partials. */
export const wholeRatio: StructureKind = ({ evidence, isFm, unfiltered, lowpass }) => {
  const isPlain = arePlain(evidence) && lowpass !== undefined;
  const pairs = isFm ? [] : explainHarmonicFm(evidence);
  const pair = pairs.filter(({ confidence }) => !isPlain || confidence > SURE_PAIR);
  if (pair.length === 0) return [];
  return [{ name: 'sines at a whole ratio', hypotheses: [...pair, ...unfiltered.filter(isNot('drive', 'fold'))] }];
};

/** Plain waveforms behind a filter come so near to the partials that nothing else is looked for. */
const PLAIN_ERROR_DB = 1.2;

function arePlain({ note }: Evidence): boolean {
  const { errorDb } = note.reading.traits.sources;
  return errorDb !== null && errorDb < PLAIN_ERROR_DB;
}
