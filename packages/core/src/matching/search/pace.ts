/** With neither a number of renders nor a time. */
const DEFAULT_RENDERS = 800;
/** However much time there is: more than this no search has used. */
const MOST_RENDERS = 8000;
/** What is taken away, rounded and compared at the end takes as long as so many, but not more of the time. */
const CLOSING_RENDERS = 30;
const CLOSING_SHARE = 0.4;
/** A search that stages can share at all. */
const LEAST_RENDERS = 60;

interface Budget {
  renders?: number;
  budgetSeconds: number;
}

/**
 * How many renders a search will have made once it is over: as many as were asked for, or as the time will
 * allow at the pace so far. So stages get their shares of what there is on a slow machine and on a long cut,
 * too.
 *
 * @param made renders so far
 * @param seconds since the start; what was spent before the first render is no part of the pace
 */
export function createPace({ renders, budgetSeconds }: Budget, made: () => number, seconds: () => number) {
  const most = renders ?? (budgetSeconds === Infinity ? DEFAULT_RENDERS : MOST_RENDERS);
  let begun: number | undefined;
  const secondsARender = () => Math.max(1e-3, seconds() - begun!) / made();
  /** When the search is to come to its end, so that the whole is over in time. */
  const closingAt = (): number => {
    if (begun === undefined || made() === 0) return budgetSeconds;
    return Math.max((1 - CLOSING_SHARE) * budgetSeconds, budgetSeconds - CLOSING_RENDERS * secondsARender());
  };
  return {
    closingAt,
    /** To be called before the first render. */
    begin: () => void (begun ??= seconds()),
    total(): number {
      if (budgetSeconds === Infinity || begun === undefined || made() === 0) return most;
      const allowed = Math.max(0, closingAt() - begun) / secondsARender();
      return Math.min(most, Math.max(LEAST_RENDERS, Math.round(allowed)));
    },
  };
}
