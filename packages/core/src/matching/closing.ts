import { parameterOf, parametersOf } from '../parameters/table';
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
  /** Stages in which a search has something to turn for it; none where only the hand can. */
  stages: readonly Stage[];
  /** The module of the first layer whose numbers matter most to the trait. */
  moduleId: string;
}

/** How a gap of a trait can be closed; null where the patch has nothing that moves it. */
export function closingOf(patch: Patch, trait: TraitId): Closing | null {
  const [{ routes }] = patch.layers;
  const modules = modulesOf(patch.layers[0]);
  const moves = (moduleId: string, parameter: string): boolean => {
    const module = modules.find(({ id }) => id === moduleId);
    const moved: readonly string[] = (module && parameterOf(module.kind, parameter)?.moves) ?? [];
    return moved.includes(trait);
  };
  const own: readonly Stage[] = closingStages[trait];
  const free = freedomsOfPatch(patch).filter(({ stage }) => own.includes(stage));
  const turned = free.find(({ moduleId, parameter }) => moves(moduleId, parameter)) ?? free[0];
  // A route stands for what it moves.
  const searched = turned && (routes.find(({ id }) => id === turned.moduleId)?.to.moduleId ?? turned.moduleId);
  const byHand = modules.find(({ id, kind }) => Object.keys(parametersOf(kind)).some((name) => moves(id, name)));
  const moduleId = searched ?? byHand?.id;
  if (moduleId === undefined) return null;
  return { moduleId, stages: own.filter((stage) => free.some((freedom) => freedom.stage === stage)) };
}
