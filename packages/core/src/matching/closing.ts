import { parameterOf } from '../parameters/table';
import { modulesOf } from '../patch/modules';
import type { Patch } from '../patch/schema';
import type { TraitId } from '../reading/schema';
import type { Stage } from './explain/hypothesis';
import { freedomsOfPatch } from './search/freedomsOfPatch';

/** Which stages of a search can bring a trait nearer. */
const closingStages = {
  pitch: ['pitch'],
  loudness: ['level'],
  brightness: ['filter'],
  partials: ['sources', 'filter'],
  sources: ['sources'],
  fm: ['sources'],
  ring: ['sources'],
  formants: ['filter'],
  noise: ['noise'],
  unison: ['sources'],
  width: ['space', 'movement'],
  motion: ['movement'],
  space: ['space'],
  dirt: ['dirt'],
} as const satisfies Record<TraitId, readonly Stage[]>;

export interface Closing {
  stages: readonly Stage[];
  /** The module of the first layer whose numbers matter most to the trait. */
  moduleId: string;
}

/** How a gap of a trait can be closed; null where the patch has nothing to turn for it. */
export function closingOf(patch: Patch, trait: TraitId): Closing | null {
  const stages: readonly Stage[] = closingStages[trait];
  const modules = modulesOf(patch.layers[0]);
  const free = freedomsOfPatch(patch).filter(({ stage }) => stages.includes(stage));
  if (free.length === 0) return null;
  const { routes } = patch.layers[0];
  // A route stands for what it moves.
  const moduleOf = (id: string) => routes.find((route) => route.id === id)?.to.moduleId ?? id;
  const moves = ({ moduleId, parameter }: (typeof free)[number]) => {
    const module = modules.find(({ id }) => id === moduleId);
    const moved: readonly string[] = (module && parameterOf(module.kind, parameter)?.moves) ?? [];
    return moved.includes(trait);
  };
  return { stages, moduleId: moduleOf((free.find(moves) ?? free[0]).moduleId) };
}
