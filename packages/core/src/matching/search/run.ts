import { hashedRandom } from '../../engine/random';
import type { Patch } from '../../patch/schema';
import type { Freedom, Stage } from '../explain/hypothesis';
import type { Judge } from './judge';
import type { Refined } from './refine';

export interface StageReport {
  stage: string;
  seconds: number;
  renders: number;
  overallJnd: number;
}

export interface MatchState {
  stage: string;
  /** 0..1 of the renders that there may be. */
  fraction: number;
  /** The best so far; null before there is one. */
  best: Patch | null;
  overallJnd: number;
}

/** How much may be searched, what may be turned, and who is told of it. */
export interface RunOptions {
  /** Renders that the search may take. */
  renders?: number;
  /** Seconds after which no more is searched. */
  budgetSeconds?: number;
  seed?: number;
  /** Modules, `module.parameter` or stages that stay as they are. */
  locks?: readonly string[];
  /** Where given, only numbers of these stages are turned. */
  only?: readonly Stage[];
  /** Told before every generation; ends the search when it returns true. The best so far is kept. */
  onProgress?: (state: MatchState) => boolean | Promise<boolean>;
}

const DEFAULT_RENDERS = 800;
/** A series of its own, which nothing that sounds draws from. */
const RANDOM_SERIES = 0x6d61;

/** Renders, time and progress of one match, shared by everything that searches. */
export function createRun(options: RunOptions, judge: Judge, fine: Judge, isSeveral: boolean) {
  const { renders = DEFAULT_RENDERS, budgetSeconds = Infinity, seed = 1, locks = [], only, onProgress } = options;
  let drawn = 0;
  const random = () => hashedRandom(seed, drawn++, RANDOM_SERIES);
  const started = Date.now();
  const seconds = () => (Date.now() - started) / 1000;
  let cancelled = false;
  let stage = '';
  let best: Refined | undefined;
  const reports: StageReport[] = [];
  /** True once nothing more is to be searched. */
  const isOver = async (): Promise<boolean> => {
    const fraction = Math.min(1, judge.renders() / renders);
    const state = { stage, fraction, best: best?.patch ?? null, overallJnd: best?.distance ?? Infinity };
    if (await onProgress?.(state)) cancelled = true;
    return cancelled || seconds() > budgetSeconds;
  };
  const isLocked = (id: string) => locks.includes(id) || locks.some((lock) => lock.startsWith(`${id}.`));
  return {
    judge,
    fine,
    total: renders,
    /** Renders that may still be made. One at the whole rate takes as long as two. */
    left: () => Math.max(0, renders - judge.renders() - 2 * fine.renders()),
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
    /** Runs one stage and writes down what it took and reached. */
    async staged<T extends Refined>(name: string, work: () => Promise<T>): Promise<T> {
      stage = name;
      const [from, before] = [seconds(), judge.renders() + fine.renders()];
      const result = await work();
      if (!best || result.distance < best.distance) best = result;
      const spent = { seconds: round(seconds() - from), renders: judge.renders() + fine.renders() - before };
      reports.push({ stage: name, ...spent, overallJnd: round(result.distance) });
      return result;
    },
  };
}

export type Run = ReturnType<typeof createRun>;

const round = (x: number) => Math.round(1000 * x) / 1000;
