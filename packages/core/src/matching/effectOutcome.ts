import type { PhraseNote } from '../engine/render';
import { type ChainOwner, setEffect } from '../patch/edits/chains';
import type { Patch } from '../patch/schema';
import type { Reading } from '../reading/schema';
import { type Gap, gapsBetween } from './gaps';
import { printTone } from './proof';

/** Less of a change cannot be heard. */
const HEARD_JND = 1;

/**
 * What an effect does to the traits: the patch is printed with it and without it, both prints are measured,
 * and the traits are told that are one just-noticeable difference or more apart, the largest first.
 * `reference` is the value without it, `proof` the one with it.
 */
export function effectOutcome(
  patch: Patch,
  owner: ChainOwner,
  effectId: string,
  notes: readonly PhraseNote[],
  reference: Reading,
  onProgress: (fraction: number) => void = () => {},
): Gap[] {
  const print = (on: boolean, from: number) =>
    printTone(setEffect(patch, owner, effectId, { on }), notes, reference, (share) => onProgress(from + share / 2));
  const without = print(false, 0);
  const withIt = print(true, 0.5);
  return gapsBetween(without.reading, withIt.reading).filter(({ gapJnd }) => gapJnd >= HEARD_JND);
}
