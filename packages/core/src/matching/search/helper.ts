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
  /** Sets what is heard at a rate right where the search is; see `Hearing`. */
  calibrate: (patch: Patch, rate: Rate) => Promise<void>;
  /** Of patches without tables and samples, in their order, in JND. */
  distances: (patches: readonly Patch[], rate: Rate) => Promise<number[]>;
}

/** The far end of a helper: what its thread does. */
export function createHelper() {
  let cuts: readonly Judged[] = [];
  let holdings: Holdings = { wavetables: [], samples: [] };
  let hearings: Partial<Record<Rate, Hearing>> = {};
  const hearingAt = (rate: Rate) => (hearings[rate] ??= createHearing(cuts, rate));
  return {
    begin(own: readonly Judged[]) {
      cuts = own;
      hearings = {};
    },
    hold(own: Holdings) {
      holdings = own;
    },
    calibrate(patch: Patch, rate: Rate) {
      hearingAt(rate).calibrate({ ...patch, ...holdings });
    },
    distances(patches: readonly Patch[], rate: Rate): number[] {
      const { distance } = hearingAt(rate);
      return patches.map((patch) => distance({ ...patch, ...holdings }));
    },
  };
}

export type LocalHelper = ReturnType<typeof createHelper>;
