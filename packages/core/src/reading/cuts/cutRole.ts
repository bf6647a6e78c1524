import { formatValue } from '../../parameters/format';
import type { Reading } from '../schema';

/** What a cut is of. */
export const cutRoles = ['long note', 'short note', 'phrase', 'tail'] as const;
export type CutRole = (typeof cutRoles)[number];

export interface SuggestedRole {
  role: CutRole;
  /** In words, as the end of a sentence. */
  reason: string;
}

const LONG_NOTE_SECONDS = 0.8;
/** Few single notes are longer. */
const PHRASE_SECONDS = 3;
const SAME_ONSET_SECONDS = 0.06;
/** What rises again by more was struck within the cut. */
const MOST_RISE_DB = 0.5;

/** What a cut is most likely of, by its length alone, until it has been measured (common practice). */
export function roleByLength(seconds: number): CutRole {
  if (seconds > PHRASE_SECONDS) return 'phrase';
  return seconds >= LONG_NOTE_SECONDS ? 'long note' : 'short note';
}

/** What a cut is of, by what was found in it; undefined where nothing with a pitch was. */
export function suggestRole({ notes, traits }: Reading): SuggestedRole | undefined {
  const onsets = notes.filter(
    ({ onsetSeconds }, i) => i === 0 || onsetSeconds - notes[i - 1].onsetSeconds > SAME_ONSET_SECONDS,
  );
  if (onsets.length === 0) return undefined;
  if (onsets.length > 1) return { role: 'phrase', reason: `${onsets.length} notes or chords follow one another` };
  if (beginsInside(traits.loudness)) return { role: 'tail', reason: 'it begins at its loudest and only dies away' };
  const seconds = Math.max(...notes.map(({ durationSeconds }) => durationSeconds));
  const length = formatValue(seconds, 's');
  return seconds >= LONG_NOTE_SECONDS
    ? { role: 'long note', reason: `one note is held for ${length}: long enough for what moves in it` }
    : { role: 'short note', reason: `one note lasts ${length}: its contour can be told, slow movements cannot` };
}

function beginsInside({ startsSounding, contour }: Reading['traits']['loudness']): boolean {
  const levels = contour.values.filter((db) => db !== null);
  if (levels.length < 8 || !startsSounding) return false;
  const start = Math.max(...levels.slice(0, Math.ceil(levels.length / 8)));
  return start >= Math.max(...levels) - MOST_RISE_DB;
}
