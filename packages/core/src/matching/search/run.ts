import { hashedRandom } from '../../engine/random';
import type { Patch } from '../../patch/schema';
import type { Freedom, Stage } from '../explain/hypothesis';
import type { Judge } from './judge';
import { createPace } from './pace';
import type { Refined } from './refine';

export interface StageReport {
  stage: string;
  seconds: number;
  renders: number;
  overallJnd: number;
}

/** How far a search is. */
export interface SearchState {
  stage: string;
  /** 0..1 of the renders or the time that there may be. */
  fraction: number;
  /** Renders so far. */
  renders: number;
  /** The best so far; null before there is one. */
  best: Patch | null;
  overallJnd: number;
}

/** How much may be searched, what may be turned, and who is told of it. */
export interface RunOptions {
  /** Renders that the search may take; as many as the time allows where only that is given. */
  renders?: number;
  /** Seconds after which no more is searched, measuring included. */
  budgetSeconds?: number;
  seed?: number;
  /** Modules, `module.parameter` or stages that stay as they are. */
  locks?: readonly string[];
  /** Where given, only numbers of these stages are turned. */
  only?: readonly Stage[];
  /** Told before every generation; ends the search when it returns true. The best so far is kept. */
  onProgress?: (state: SearchState) => boolean | Promise<boolean>;
}

/** A series of its own, which nothing that sounds draws from. */
const RANDOM_SERIES = 0x6d61;

/** Renders, time and progress of one match, shared by everything that searches. */
export function createRun(
  options: RunOptions,
  judge: Judge,
  fine: Judge,
  { started, isSeveral }: { started: number; isSeveral: boolean },
) {
  const { renders, budgetSeconds = Infinity, seed = 1, locks = [], only, onProgress } = options;
  let drawn = 0;
  const random = () => hashedRandom(seed, drawn++, RANDOM_SERIES);
  const seconds = () => (Date.now() - started) / 1000;
  // One render at the whole rate takes as long as two.
  const made = () => judge.renders() + 2 * fine.renders();
  const pace = createPace({ renders, budgetSeconds }, made, seconds);
  pace.begin();
  let cancelled = false;
  let stage = '';
  let best: Refined | undefined;
  const reports: StageReport[] = [];
  /** True once nothing more is to be searched. */
  const isOver = async (): Promise<boolean> => {
    const fraction = Math.min(1, Math.max(made() / pace.total(), seconds() / pace.closingAt()));
    const state = {
      stage,
      fraction,
      renders: judge.renders() + fine.renders(),
      best: best?.patch ?? null,
      overallJnd: best?.distance ?? Infinity,
    };
    if (await onProgress?.(state)) cancelled = true;
    return cancelled || seconds() > pace.closingAt();
  };
  const isLocked = (id: string) => locks.includes(id) || locks.some((lock) => lock.startsWith(`${id}.`));
  return {
    judge,
    fine,
    /** Renders that there are for all of the search. */
    total: pace.total,
    /** Those that may still be made. */
    left: () => Math.max(0, pace.total() - made()),
    reports,
    isLocked,
    isCancelled: () => cancelled,
    limits: { random, isCancelled: isOver },
    isOver,
    /** What only several cuts can tell: how far a filter follows the key. */
    acrossKeys: ({ layers: [{ filters }] }: Patch): Freedom[] =>
      !isSeveral
        ? []
        : filters
            .filter(({ on }) => on)
            .map(({ id }) => ({ moduleId: id, parameter: 'keyTracking', stage: 'filter', step: 0.15 })),
    isFree: ({ moduleId, parameter, stage: own }: Freedom) =>
      (!only || only.includes(own)) &&
      !locks.some((lock) => lock === moduleId || lock === `${moduleId}.${parameter}` || lock === own),
    /**
     * Runs one stage and writes down what it took and reached. What it found is the best so far, also where
     * it is now heard better and is further away; what stands beside that is only where it is nearer.
     */
    async staged<T extends Refined>(name: string, work: () => Promise<T>, { isBeside = false } = {}): Promise<T> {
      stage = name;
      const [from, before] = [seconds(), judge.renders() + fine.renders()];
      const result = await work();
      if (!isBeside || !best || result.distance < best.distance) best = result;
      const spent = { seconds: round(seconds() - from), renders: judge.renders() + fine.renders() - before };
      reports.push({ stage: name, ...spent, overallJnd: round(result.distance) });
      return result;
    },
  };
}

export type Run = ReturnType<typeof createRun>;

const round = (x: number) => Math.round(1000 * x) / 1000;
