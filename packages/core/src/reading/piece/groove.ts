import type { ReadingNote } from '../schema';
import { median } from '../statistics';

/** How notes stand against an even grid, and how the notes of chords follow one another. */
export interface Groove {
  /**
   * Where the second of each pair of grid steps falls, % of the pair: 50 is even. With the step it refers to.
   * Null when nothing falls there.
   */
  swing: { percent: number; step: '1/8' | '1/16' } | null;
  /** Time from the first to the last note of a chord, and which way it goes; null without chords. */
  strum: { seconds: number; direction: 'up' | 'down' | 'mixed' } | null;
}

/** Notes that begin within it are one chord. */
const CHORD_SECONDS = 0.09;
/** Off-beats are looked for from here to there, % of the pair: common practice is 54 to 62, a triplet 67. */
const FROM_PERCENT = 42;
const TO_PERCENT = 75;
const MIN_OFFBEATS = 3;
/** Steps nearer than that to one another are one time. */
const MIN_STRUM_SECONDS = 0.004;

/**
 * Swing in per cent with the grid that it refers to, and strum.
 *
 * @param bpm of the piece, null when it has none
 * @param beatSeconds time of any beat, in the time of the notes
 */
export function measureGroove(notes: readonly ReadingNote[], bpm: number | null, beatSeconds: number): Groove {
  const chords = chordsOf(notes);
  return { swing: bpm === null ? null : findSwing(chords, bpm, beatSeconds), strum: findStrum(chords) };
}

function chordsOf(notes: readonly ReadingNote[]): ReadingNote[][] {
  const chords: ReadingNote[][] = [];
  for (const note of [...notes].sort((a, b) => a.onsetSeconds - b.onsetSeconds)) {
    const last = chords[chords.length - 1];
    if (last && note.onsetSeconds - last[0].onsetSeconds < CHORD_SECONDS) last.push(note);
    else chords.push([note]);
  }
  return chords;
}

function findSwing(chords: readonly ReadingNote[][], bpm: number, beatSeconds: number): Groove['swing'] {
  // Of sixteenths when there are any off them; else of eighths.
  for (const step of ['1/16', '1/8'] as const) {
    const pair = (60 / bpm) * (step === '1/16' ? 0.5 : 1);
    const places = chords.map(([first]) => {
      const turns = (first.onsetSeconds - beatSeconds) / pair;
      return 100 * (turns - Math.floor(turns));
    });
    const off = places.filter((place) => place > FROM_PERCENT && place < TO_PERCENT);
    if (off.length >= MIN_OFFBEATS) return { percent: median(off), step };
  }
  return null;
}

function findStrum(chords: readonly ReadingNote[][]): Groove['strum'] {
  const several = chords.filter((chord) => chord.length > 1);
  if (several.length === 0) return null;
  const spans = several.map((chord) => chord[chord.length - 1].onsetSeconds - chord[0].onsetSeconds);
  const seconds = median(spans);
  if (seconds < MIN_STRUM_SECONDS) return { seconds: 0, direction: 'mixed' };
  // A down-stroke goes from the low strings to the high ones.
  const rising = several.filter((chord) => chord[chord.length - 1].midi > chord[0].midi).length / several.length;
  return { seconds, direction: rising > 0.8 ? 'down' : rising < 0.2 ? 'up' : 'mixed' };
}
