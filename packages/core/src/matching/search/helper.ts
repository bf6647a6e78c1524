import type { Patch } from '../../patch/schema';
import { type Hearing, type Judged, type Rate, createHearing } from './hearing';

/** What is large in patches, and the same in all of a search. */
export type Holdings = Pick<Patch, 'wavetables' | 'samples'>;

/** Takes a share of the renders in another thread; its messages can be cloned. */
export interface Helper {
  /** Gets ready for these cuts, and forgets those before. */
  begin: (cuts: readonly Judged[]) => Promise<void>;
  /** What patches without tables and samples are played with from now on. */
  hold: (holdings: Holdings) => Promise<void>;
  /** Of patches without tables and samples, in their order, in JND. */
  distances: (patches: readonly Patch[], rate: Rate) => Promise<number[]>;
}

/** The far end of a helper: what its thread does. */
export function createHelper() {
  let cuts: readonly Judged[] = [];
  let holdings: Holdings = { wavetables: [], samples: [] };
  let hearings: Partial<Record<Rate, Hearing>> = {};
  return {
    begin(own: readonly Judged[]) {
      cuts = own;
      hearings = {};
    },
    hold(own: Holdings) {
      holdings = own;
    },
    distances(patches: readonly Patch[], rate: Rate): number[] {
      const hearing = (hearings[rate] ??= createHearing(cuts, rate));
      return patches.map((patch) => hearing({ ...patch, ...holdings }));
    },
  };
}

export type LocalHelper = ReturnType<typeof createHelper>;
