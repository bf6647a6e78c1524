import type { PhraseNote } from '@imprint/core/engine/render';
import type { MatchState } from '@imprint/core/matching/match';
import type { Patch } from '@imprint/core/patch/schema';
import type { RunRow } from '../models/models';
import type { RunNews } from './lease';

/** Points that a curve has at most; then every other one goes. */
const MOST_POINTS = 240;

/** Gathers what a search tells of itself. What was known of an interrupted run stays before it. */
export function createRunLog({ progress: before, curve: earlier, overallJnd: reached, notes: read }: RunRow) {
  const begun = Date.now();
  const spent = before.seconds ?? 0;
  const seconds = () => Math.round(1000 * (spent + (Date.now() - begun) / 1000)) / 1000;
  let curve = [...earlier];
  let state: Pick<MatchState, 'stage' | 'fraction' | 'renders'> = { stage: 'measuring', fraction: 0, renders: 0 };
  let overallJnd = reached;
  let notes: readonly PhraseNote[] = read;
  let better: Patch | undefined;
  return {
    add({ stage, fraction, renders, best, overallJnd: distance, notes: played }: MatchState): void {
      if (played.length > 0) notes = played;
      const isOther = stage !== state.stage;
      state = { stage, fraction, renders };
      if (!best || !Number.isFinite(distance)) return;
      const isBetter = overallJnd === null || distance < overallJnd;
      if (isBetter) {
        overallJnd = distance;
        better = best;
      }
      if (!isBetter && !isOther) return;
      curve.push({ seconds: seconds(), overallJnd: Math.round(1000 * overallJnd!) / 1000, stage });
      if (curve.length > MOST_POINTS) curve = curve.filter((_, i) => i % 2 === 1);
    },

    /** What is known now, with the best patch where that was not told of yet. */
    news(): RunNews {
      const best = better;
      const renders = (before.renders ?? 0) + state.renders;
      return {
        progress: { ...state, renders, seconds: seconds() },
        curve,
        overallJnd,
        notes,
        ...(best ? { best } : {}),
      };
    },

    /** The database has heard these. */
    told({ best }: RunNews): void {
      if (best === better) better = undefined;
    },
  };
}
