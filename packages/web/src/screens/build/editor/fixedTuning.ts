import { midiFromHz, noteName } from '@imprint/core/dsp/pitch';
import type { Reading } from '@imprint/core/reading/schema';

/** What a fixed frequency does to a tone that is played on other keys. */
export const rightFor = (hz: number): string =>
  `Does not follow the keys: right for ${noteName(Math.round(midiFromHz(hz)))} only.`;

/** Fields by which a source sounds as before on the note of the cut, and follows the others. */
export function followingNote(hz: number, { traits: { pitch } }: Reading) {
  const ratio = pitch.f0Hz === null ? 1 : Number((hz / pitch.f0Hz).toPrecision(4));
  return { tuning: 'ratio', ratio: Math.max(0.0625, Math.min(32, ratio)) };
}
