import type { Patch } from '../../patch/schema';
import { type Hearing, type Judged, type Rate, createHearing } from './hearing';
import type { Helper } from './helper';

/** Tells how far patches are from a reference, and counts how often it was asked. */
export interface Judge {
  /** Distance in JND; Infinity where the patch cannot be played. */
  distance: (patch: Patch) => Promise<number>;
  /** Of patches that share their tables and samples, in their order. */
  distances: (patches: readonly Patch[]) => Promise<number[]>;
  /** Sets what is heard right where the search is; see `Hearing`. */
  calibrate: (patch: Patch) => Promise<void>;
  renders: () => number;
}

/** A print at the whole rate takes as long as two at half of it. */
const CALIBRATION_RENDERS = 3;

/**
 * A judge of one or several cuts of a tone. With helpers, which have begun on the same cuts, what is asked at
 * once is shared among as many threads; the answers do not depend on how many there are.
 */
export function createJudge(cuts: readonly Judged[], rate: Rate, helpers: readonly Helper[] = []): Judge {
  let hearing: Hearing | undefined;
  let held: unknown;
  let count = 0;
  const hold = async ({ wavetables, samples }: Patch) => {
    if (held !== wavetables) await Promise.all(helpers.map((helper) => helper.hold({ wavetables, samples })));
    held = wavetables;
  };
  const distances = async (patches: readonly Patch[]): Promise<number[]> => {
    if (patches.length === 0) return [];
    count += patches.length * cuts.length;
    const { distance } = (hearing ??= createHearing(cuts, rate));
    if (helpers.length === 0 || patches.length === 1) return patches.map(distance);
    await hold(patches[0]);
    const share = Math.ceil(patches.length / (helpers.length + 1));
    const others = helpers.map((helper, i) => {
      const own = patches.slice((i + 1) * share, (i + 2) * share);
      return helper.distances(own.map(bare), rate);
    });
    const own = patches.slice(0, share).map(distance);
    return [...own, ...(await Promise.all(others)).flat()];
  };
  return {
    distances,
    distance: async (patch) => (await distances([patch]))[0],
    async calibrate(patch) {
      count += CALIBRATION_RENDERS * cuts.length;
      await hold(patch);
      const others = helpers.map((helper) => helper.calibrate(bare(patch), rate));
      (hearing ??= createHearing(cuts, rate)).calibrate(patch);
      await Promise.all(others);
    },
    renders: () => count,
  };
}

/** Without what is large and the same in all. */
const bare = (patch: Patch): Patch => ({ ...patch, wavetables: [], samples: [] });
