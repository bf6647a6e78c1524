import { type PhraseNote, renderPatch } from '../engine/render';
import type { Patch } from '../patch/schema';
import { type Part, partsOf, takeOut } from '../patch/edits/takeOut';
import { durationOf } from '../reading/audio';
import { type Tone, heardOf } from './comparison';
import { Listener } from './distance/listeningDistance';

/** What a part of a patch does for the distance. */
export interface Contribution extends Part {
  /** How much further away the patch is without it, JND; below 0 it would be nearer. */
  worthJnd: number;
}

/** Less of a change of the distance is not heard. */
export const NOTHING_JND = 0.05;

/**
 * What each part of a patch contributes: it is printed without each in turn, and the distances are compared.
 *
 * @returns the weightiest first
 */
export function contributionsOf(
  patch: Patch,
  notes: readonly PhraseNote[],
  tone: Tone,
  onProgress: (fraction: number) => void = () => {},
): Contribution[] {
  const { audio } = tone;
  const { sampleRateHz } = audio;
  const listener = new Listener(audio, heardOf(tone));
  const distanceOf = (one: Patch) =>
    listener.compare({
      channels: renderPatch({ patch: one, notes, sampleRateHz, seconds: durationOf(audio) }),
      sampleRateHz,
    }).overallJnd;
  const whole = distanceOf(patch);
  const parts = partsOf(patch);
  const found = parts.map((part, i): Contribution => {
    onProgress((i + 1) / (parts.length + 1));
    return { ...part, worthJnd: Math.round(1000 * (distanceOf(takeOut(patch, part)) - whole)) / 1000 };
  });
  return found.sort((a, b) => b.worthJnd - a.worthJnd);
}
