import type { DelayLine } from '../chain/delayLine';
import { ALIKE, COMPARED_SECONDS, LONGEST_PERIOD_SECONDS, createSeamFinder } from './seam';

/** A head that has to go on elsewhere fades there over this share of its window, but no longer than so. */
const FADE_SHARE = 0.25;
const MOST_FADE_SECONDS = 0.008;
/** Where no place is like the present one, it looks again after so long. */
const AGAIN_SECONDS = 0.004;
/** A head reads no nearer than this to what is written, samples: reading between samples takes that. */
const NEAREST = 3;
/** The sides count unequally, so that opposite ones do not cancel where both are looked at together. */
const OTHER_SIDE = 0.7;

/** Where a side is read, where it fades to, how far it has faded, and how alike both places are. */
interface Head {
  distance: number;
  next: number;
  share: number;
  step: number;
  likeness: number;
  /** Samples until it may look for another place. */
  waits: number;
}

/**
 * Reads two delay lines, each at a speed of its own, which changes the pitch. A head that comes near what is
 * written, or that falls behind by its window, goes on at a place that is most like where it is, a whole
 * number of periods away if there are any, over a short fade: a tone keeps its phase. Sides of the same speed
 * leap together, so that nothing moves between them.
 */
export function createPitchHeads(lines: readonly [DelayLine, DelayLine], sampleRateHz: number, mostWindow: number) {
  const longestPeriod = LONGEST_PERIOD_SECONDS * sampleRateHz;
  const finder = createSeamFinder(sampleRateHz, mostWindow / sampleRateHz + LONGEST_PERIOD_SECONDS);
  const otherSide = new Float64Array(finder.past.length);
  const heads = [0, 1].map((): Head => ({ distance: 0, next: 0, share: 0, step: 0, likeness: 0, waits: 0 }));
  const state = { fresh: true, joined: true };

  /** Copies the past from `distance` on into the finder; of both sides when they leap together. */
  function recall(side: number, distance: number, length: number): void {
    lines[side].copyPast(finder.past, distance, length);
    if (!state.joined) return;
    lines[1].copyPast(otherSide, distance, length);
    for (let i = 0; i < length; i++) finder.past[i] += OTHER_SIDE * otherSide[i];
  }

  /**
   * Looks for a place further back, after which a head that reads fast has its window before it once more.
   */
  function findBack(side: number, distance: number, window: number) {
    const { compared, margin } = finder;
    const most = Math.floor(window + longestPeriod);
    const length = compared + most + margin;
    recall(side, distance + length - 1, length);
    const least = Math.floor(window / 2);
    const within = finder.find(length - 1, -1, least, Math.floor(window), window, length);
    return within.likeness >= ALIKE ? within : finder.find(length - 1, -1, least, most, window, length);
  }

  /** Looks for a place near what is written, for a head that reads slowly. */
  function findForward(side: number, distance: number, window: number) {
    const { compared, margin } = finder;
    const most = distance - NEAREST - 1;
    const length = compared + margin + most + 1;
    recall(side, distance + compared + margin - 1, length);
    return finder.find(compared + margin - 1, 1, Math.floor(Math.min(window / 2, most / 2)), most, window, length);
  }

  /** Sends a head to another place where it has to go. */
  function leap(side: number, ratio: number, window: number): void {
    const head = heads[side];
    const speed = Math.abs(1 - ratio);
    const fade = Math.min(FADE_SHARE * window, MOST_FADE_SECONDS * sampleRateHz) / Math.max(1, speed);
    const place = Math.round(head.distance);
    if (ratio > 1) {
      if (head.distance > NEAREST + 1 + (ratio - 1) * fade) return;
      const { lag, likeness } = findBack(side, place, window);
      fadeTo(head, head.distance + lag, likeness, fade);
    } else if (head.distance >= window && ratio < 1) {
      const latest = window + longestPeriod;
      if (head.waits > 0 && head.distance < latest) return;
      const { lag, likeness } = findForward(side, place, window);
      head.waits = AGAIN_SECONDS * sampleRateHz;
      if (likeness >= ALIKE || head.distance >= latest) fadeTo(head, head.distance - lag, likeness, fade);
    }
  }

  function fadeTo(head: Head, next: number, likeness: number, samples: number): void {
    head.next = Math.max(NEAREST, next);
    head.likeness = Math.max(0, likeness);
    head.step = 1 / Math.max(1, samples);
    head.share = head.step;
  }

  function read(line: DelayLine, head: Head): number {
    const here = line.read(head.distance);
    const { share } = head;
    if (share === 0) return here;
    const rest = 1 - share;
    // As loud on the way as at its ends, whatever both places have in common.
    const gain = 1 / Math.sqrt(share * share + rest * rest + 2 * share * rest * head.likeness);
    return gain * (rest * here + share * line.read(head.next));
  }

  function advance(head: Head, ratio: number): void {
    head.distance = Math.max(NEAREST, head.distance + 1 - ratio);
    head.waits--;
    if (head.share === 0) return;
    head.next = Math.max(NEAREST, head.next + 1 - ratio);
    head.share += head.step;
    if (head.share < 1) return;
    head.distance = head.next;
    head.share = 0;
  }

  return {
    clear(): void {
      state.fresh = true;
      state.joined = true;
    },
    /**
     * Tells before a block whether both sides go at the same speed, and how long the window is, in samples.
     */
    prepare(together: boolean, window: number): void {
      const [left, right] = heads;
      if (state.fresh) {
        for (const head of heads) Object.assign(head, { distance: NEAREST + window / 2, share: 0, waits: 0 });
        state.fresh = false;
        state.joined = together;
      } else if (!together) state.joined = false;
      else if (!state.joined && left.share === 0 && right.share === 0) {
        if (left.distance === right.distance) state.joined = true;
        else fadeTo(right, left.distance, 0, MOST_FADE_SECONDS * sampleRateHz);
      }
    },
    /**
     * What a side reads after a sample has been written to both lines. The left side has to be read first.
     */
    read(side: 0 | 1, ratio: number, window: number): number {
      const head = heads[side];
      if (side === 1 && state.joined) {
        Object.assign(head, heads[0]);
        return read(lines[1], head);
      }
      if (head.share === 0) leap(side, ratio, window);
      return read(lines[side], head);
    },
    /** Goes on by a sample. */
    advance(ratioLeft: number, ratioRight: number): void {
      advance(heads[0], ratioLeft);
      advance(heads[1], ratioRight);
    },
  };
}

/** How far back heads with a window of so many samples read, and look, at most. */
export const pitchHeadsReach = (mostWindow: number, sampleRateHz: number): number =>
  Math.ceil(2 * mostWindow + (2 * LONGEST_PERIOD_SECONDS + COMPARED_SECONDS) * sampleRateHz) + 64;
