import type { HeardScale } from './hear';

/** Half the periods that are looked at, in frames. */
export const LAGS = [1, 2, 4, 8] as const;

/** Neighbours whose depths are told together. */
export const POOLED_ERB = 4;
/** Nulls are heard as nulls, however deep. */
const DEEPEST_DB = 6;

/** How much levels go up and down, by lag: dB RMS from half way between before and after. */
export interface Flutter {
  /** Of every band. */
  depths: number[][];
  /** Of what all bands have in common. */
  shared: number[];
  /** How loud each band is over its floor on the average, dB. */
  levels: number[];
}

/**
 * What flutters, without regard to when: a slope leaves nothing, a beat or a tremolo its depth at lags about
 * its half period, noise a little at all. Moments within a lag of an event are left out, since what begins or
 * ends there is compared by itself.
 *
 * @param levels `frames × bands`, dB over the floor
 */
export function flutterOf(scale: HeardScale, levels: Float64Array, events: readonly number[]): Flutter {
  const { bands, hopSeconds, frames } = scale;
  const { count } = bands;
  const means = new Float64Array(count);
  const together = new Float64Array(frames);
  for (let f = 0; f < frames; f++) {
    let squares = 0;
    let sum = 1e-9;
    for (let b = 0; b < count; b++) {
      const level = levels[f * count + b];
      means[b] += level / frames;
      squares += level * level;
      sum += level;
    }
    together[f] = squares / sum;
  }
  const byLag = LAGS.map((lag) => {
    const isNear = nearEvents(events, hopSeconds, frames, lag);
    return { own: depthsAt(levels, count, lag, isNear), shared: depthsAt(together, 1, lag, isNear) };
  });
  // Few beats fit into a note: neighbours together say more surely how deep they are.
  const reach = Math.max(1, Math.round(POOLED_ERB / bands.stepErb / 2));
  const pooled = byLag.map(({ own }) => own.map((_, b) => depthOf(own.slice(Math.max(0, b - reach), b + reach + 1))));
  return {
    depths: Array.from(means, (_, b) => pooled.map((lag) => lag[b])),
    shared: byLag.map(({ shared }) => depthOf(shared)),
    levels: [...means],
  };
}

interface Sum {
  square: number;
  weight: number;
}

const depthOf = (sums: readonly Sum[]) => {
  const weight = sums.reduce((sum, x) => sum + x.weight, 1e-9);
  const depth = Math.sqrt(sums.reduce((sum, x) => sum + x.square, 0) / weight);
  return DEEPEST_DB * (1 - Math.exp(-depth / DEEPEST_DB));
};

/** Squared distances of levels from half way between those a lag before and after, by loudness. */
function depthsAt(levels: Float64Array, count: number, lag: number, isLeftOut: Uint8Array): Sum[] {
  const sums = Array.from({ length: count }, () => ({ square: 0, weight: 0 }));
  const frames = levels.length / count;
  for (let f = lag; f < frames - lag; f++) {
    if (isLeftOut[f]) continue;
    for (let b = 0; b < count; b++) {
      const here = levels[f * count + b];
      const before = levels[(f - lag) * count + b];
      const after = levels[(f + lag) * count + b];
      const off = here - (before + after) / 2;
      // Soft moments say little about how a band flutters.
      const weight = here + before + after;
      sums[b].square += weight * off * off;
      sums[b].weight += weight;
    }
  }
  return sums;
}

function nearEvents(events: readonly number[], hopSeconds: number, frames: number, lag: number): Uint8Array {
  const isNear = new Uint8Array(frames);
  for (const event of [0, ...events]) {
    const at = Math.round(event / hopSeconds);
    // A window reaches two hops to either side.
    for (let f = Math.max(0, at - lag - 2); f <= Math.min(frames - 1, at + lag + 2); f++) isNear[f] = 1;
  }
  return isNear;
}
