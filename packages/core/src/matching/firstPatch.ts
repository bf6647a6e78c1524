import type { PhraseNote } from '../engine/render';
import type { Patch } from '../patch/schema';
import type { Audio } from '../reading/audio';
import type { Overrules } from '../reading/hand/overrules';
import type { ReadingContext } from '../reading/read';
import type { Reading } from '../reading/schema';
import { matchTone } from './match';
import type { Helper } from './search/helper';

export interface FirstPatch {
  patch: Patch;
  /** The notes of the cut, to print the patch over it. */
  notes: PhraseNote[];
  reading: Reading;
}

/** Enough for a first idea of the tone within a few seconds. */
const FIRST_RENDERS = 140;
/** A plain patch that is nearer is not weighed against others. */
const NEAR_JND = 3;

/**
 * A first patch from a cut: a plain one after a short search, or the copy where that is much nearer.
 *
 * @param helpers other threads, which take their share of the work
 * @param overrules values set by hand, which stand in place of those measured; the reading that is returned
 *   stays as measured
 *
 * Throws an InputError when the cut has no pitch to build on.
 */
export async function firstPatch(
  audio: Audio,
  name: string,
  onProgress: (fraction: number) => void = () => {},
  context: ReadingContext = {},
  overrules: Overrules = {},
  helpers: readonly Helper[] = [],
): Promise<FirstPatch> {
  const { candidates, notes, reading } = await matchTone(audio, {
    name,
    renders: FIRST_RENDERS,
    othersBeyondJnd: NEAR_JND,
    context,
    overrules,
    helpers,
    onProgress: ({ fraction }) => {
      onProgress(fraction);
      return false;
    },
  });
  onProgress(1);
  return { patch: candidates[0].patch, notes, reading };
}
