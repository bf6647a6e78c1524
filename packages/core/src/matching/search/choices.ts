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

const AT_ONCE_SECONDS = 0.001;
/** A rise that takes so many periods is seen in the level, wherever a period begins. */
const UNSURE_PERIODS = 1.5;
const BEGINNINGS = [0, 0.25, 0.5, 0.75];

/**
 * Where in their periods sources begin, and whether at once: of a low note the level does not tell a rise
 * from the part of a period that comes first.
 */
export async function chooseBeginning(
  start: Refined,
  periodSeconds: number,
  judge: Judge,
  isFree: (freedom: Freedom) => boolean,
): Promise<Refined> {
  const [{ amp, sources }] = start.patch.layers;
  const isOpen = (moduleId: string, parameter: string, stage: Freedom['stage']) =>
    isFree({ moduleId, parameter, stage, step: 1 });
  const isUnsure = amp.attackSeconds > AT_ONCE_SECONDS && amp.attackSeconds < UNSURE_PERIODS * periodSeconds;
  const fixed = sources.filter((source) => 'startPhaseRandom' in source && source.startPhaseRandom === 0);
  const ids = fixed.map(({ id }) => id).filter((id) => isOpen(id, 'startPhaseCycles', 'sources'));
  if (!isUnsure || ids.length === 0) return start;
  const attacks = isOpen('amp', 'attackSeconds', 'level') ? [amp.attackSeconds, AT_ONCE_SECONDS] : [amp.attackSeconds];
  const patches = attacks.flatMap((attackSeconds) =>
    BEGINNINGS.map((cycles) => begun(start.patch, attackSeconds, ids, cycles)),
  );
  const distances = await judge.distances(patches);
  const nearest = distances.indexOf(Math.min(...distances));
  return distances[nearest] < start.distance - WORTH_JND
    ? { patch: patches[nearest], distance: distances[nearest] }
    : start;
}

function begun(patch: Patch, attackSeconds: number, ids: readonly string[], cycles: number): Patch {
  const changed = copied(patch);
  const [layer] = changed.layers;
  layer.amp.attackSeconds = attackSeconds;
  for (const source of layer.sources)
    if ('startPhaseCycles' in source && ids.includes(source.id))
      source.startPhaseCycles = (source.startPhaseCycles + cycles) % 1;
  return changed;
}
