import type { Freedom } from '../explain/hypothesis';
import type { Patch } from '../../patch/schema';
import type { Judge } from './judge';
import { copied } from './parameterSpace';
import { type Limits, type Refined, refine } from './refine';

const SLOPES = [6, 12, 18, 24] as const;
/** What another slope than the one that was read has to be worth. */
const WORTH_JND = 0.1;

export interface Chosen extends Refined {
  /** What was chosen otherwise than it was read, in words. */
  why: string[];
}

/**
 * Slopes of the low-pass next to the one that was read, which a resonance or a drive makes look steeper or
 * less so: each with the filter's numbers turned a little.
 */
export async function chooseSlope(
  start: Refined,
  freedoms: readonly Freedom[],
  judge: Judge,
  limits: Limits,
): Promise<Chosen> {
  const filter = start.patch.layers[0].filters[0];
  if (!filter.on || filter.kind !== 'lowpass') return { ...start, why: [] };
  const read = filter.slopeDbPerOctave;
  const own = freedoms.filter(({ stage }) => stage === 'filter');
  const others = SLOPES.filter((slope) => slope !== read && Math.abs(slope - read) <= 12);
  const patches = others.map((slope) => withSlope(start.patch, slope));
  const distances = await judge.distances(patches);
  let best: Chosen = { ...start, why: [] };
  for (const [i, slope] of others.entries()) {
    const tried = await refine({ patch: patches[i], distance: distances[i] }, own, judge, limits);
    if (tried.distance > best.distance - WORTH_JND) continue;
    const nearer = (start.distance - tried.distance).toFixed(1);
    const why = `slope: ${slope} dB an octave comes ${nearer} JND nearer than the ${read} that were read`;
    best = { ...tried, why: [why] };
  }
  return best;
}

function withSlope(patch: Patch, slope: (typeof SLOPES)[number]): Patch {
  const changed = copied(patch);
  const [filter] = changed.layers[0].filters;
  if (filter.kind === 'lowpass') filter.slopeDbPerOctave = slope;
  return changed;
}
