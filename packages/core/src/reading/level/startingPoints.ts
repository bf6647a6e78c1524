import { decibelsFromGain } from '../../dsp/decibels';
import { FLOOR_DB, type StartingPoint, type Story, readContour } from './envelopeModel';
import type { LevelContour } from './levelContour';

/** What a search for the curve of a story begins with. */
export function startingPoints(contour: LevelContour, top: number, end: number, story: Story): StartingPoint[] {
  const { rms, hopSeconds } = contour;
  const first = (test: (value: number) => boolean) => Math.max(0, rms.findIndex(test)) * hopSeconds;
  const onset = first((value) => value > 0.03 * top);
  const nearTop = first((value) => value > 0.9 * top);
  const steep = first((value) => value > 0.3 * top);
  const attack = Math.max(0.001, nearTop - onset);
  const last = rms.findLastIndex((value) => value > 0.03 * top) * hopSeconds;
  const starts: StartingPoint[] = [];
  // Where the note may end: at the steepest falls of the level, or not at all.
  for (const off of story === 'held' ? [end] : [...steepestFalls(contour, top, nearTop), last]) {
    const sustain = Math.min(1, readContour(contour, off - contour.windowSeconds) / top);
    const release = Math.max(0.01, 2 * (last - off));
    const length = Math.min(off, last) - nearTop;
    const start = { onset, attack, hold: 0.001, sustain, off, release };
    // What beats may come to its top long after it has begun.
    starts.push(
      { ...start, decay: Math.max(0.02, length / 3) },
      { ...start, attack: 0.005, decay: Math.max(0.02, length / 3) },
    );
    if (story === 'even') continue;
    starts.push(
      { ...start, decay: Math.max(0.02, length), sustain: Math.min(0.03, sustain) },
      { ...start, decay: Math.max(0.02, length / 4), hold: Math.max(0.001, length / 2), sustain: 0.9 * sustain },
      { ...start, ...firstFall(contour, top, nearTop, off) },
      // Something soft may go before.
      { ...start, ...firstFall(contour, top, nearTop, off), onset: steep, attack: Math.max(0.001, nearTop - steep) },
    );
  }
  return starts;
}

/** The hold and decay that the way from the top down to the level before note-off looks like. */
function firstFall({ rms, hopSeconds, windowSeconds }: LevelContour, top: number, nearTop: number, off: number) {
  const to = Math.max(1, Math.min(rms.length - 1, Math.round((off - windowSeconds) / hopSeconds)));
  const from = Math.min(to - 1, Math.ceil(nearTop / hopSeconds));
  const way = top - rms[to];
  const lastOver = (share: number) =>
    Math.max(
      from,
      rms.subarray(0, to).findLastIndex((x) => x > rms[to] + share * way),
    );
  const begun = lastOver(0.85) * hopSeconds;
  return { hold: Math.max(0.001, begun - nearTop), decay: Math.max(0.02, 1.5 * (lastOver(0.15) * hopSeconds - begun)) };
}

const FALL_SECONDS = 0.03;
/** A fall begins where the level falls this much as fast as where it falls most. */
const BEGIN_OF_FALL = 0.5;

/**
 * Where the level falls most within 30 ms (in dB, down to the floor), up to two times, and where those falls
 * begin: a fall that is even in dB is steepest anywhere.
 */
function steepestFalls({ rms, hopSeconds }: LevelContour, top: number, after: number): number[] {
  const span = Math.max(1, Math.round(FALL_SECONDS / hopSeconds));
  const first = Math.ceil(after / hopSeconds);
  const levels = Float64Array.from(rms, (value) => decibelsFromGain(value / top, FLOOR_DB));
  const fallAt = (i: number) => levels[i] - levels[i + span];
  const falls = Array.from({ length: Math.max(0, rms.length - span - first) }, (_, i) => first + i)
    .filter((i) => levels[i] >= -45)
    .sort((a, b) => fallAt(b) - fallAt(a));
  const second = falls.find((i) => Math.abs(i - falls[0]) * hopSeconds > 0.08);
  const begun = (steepest: number) => {
    let i = steepest;
    while (i > first && fallAt(i - 1) > BEGIN_OF_FALL * fallAt(steepest)) i--;
    return i;
  };
  const places = [falls[0], second].filter((i) => i !== undefined).flatMap((i) => [i, begun(i)]);
  return places
    .filter((i, n) => !places.slice(0, n).some((other) => Math.abs(i - other) < span / 2))
    .map((i) => i * hopSeconds);
}
