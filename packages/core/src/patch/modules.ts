import type { Parameter } from '../parameters/parameter';
import { type ModuleKind, parameterOf } from '../parameters/table';
import type { Layer, Macro, Patch, Route } from './schema';

/** Anything of a layer that has numbers: what it is in the parameter table, and where its values are. */
export interface Module {
  id: string;
  kind: ModuleKind;
  values: Readonly<Record<string, number>>;
}

/** Id under which routes reach the numbers of the layer itself. */
export const LAYER_MODULE = 'layer';

const moduleOf = (module: { id: string; kind: ModuleKind }): Module => ({
  id: module.id,
  kind: module.kind,
  values: module as unknown as Module['values'],
});

/** All modules of a layer whose numbers can be reached by routes, in signal order. */
export function modulesOf(layer: Layer): Module[] {
  return [
    ...layer.sources.map(moduleOf),
    ...layer.interactions.map(moduleOf),
    moduleOf(layer.filters[0]),
    moduleOf(layer.shaper),
    moduleOf(layer.filters[1]),
    moduleOf(layer.amp),
    ...layer.effects.map(moduleOf),
    { id: LAYER_MODULE, kind: 'layer', values: layer as unknown as Module['values'] },
    ...layer.modulators.map(moduleOf),
  ];
}

/** What a route arrives at: a parameter of a module, or the amount of another route. */
export interface RouteTarget {
  /** The parameter in the words of the table; of a route's amount, the parameter which that route moves. */
  parameter: Parameter;
  kind: ModuleKind | 'route';
  resting: number;
}

/**
 * Finds what a route moves, or says why there is nothing: the module is missing, or its parameter does not
 * move.
 *
 * @throws nothing; the reason is returned as a string
 */
export function targetOf(layer: Layer, to: Route['to'], depth = 0): RouteTarget | string {
  const other = layer.routes.find(({ id }) => id === to.moduleId);
  if (other) {
    if (to.parameter !== 'amount') return `"${to.parameter}", but of a route only the amount moves`;
    if (depth > 0) return `the amount of "${other.id}", which moves an amount itself`;
    const moved = targetOf(layer, other.to, depth + 1);
    if (typeof moved === 'string') return moved;
    return { parameter: amountParameter(moved.parameter), kind: 'route', resting: other.amount };
  }
  const module = modulesOf(layer).find(({ id }) => id === to.moduleId);
  if (!module) return `"${to.moduleId}", which is no part of its layer`;
  const parameter = parameterOf(module.kind, to.parameter);
  if (!parameter?.routing) return `"${to.parameter}", which is nothing that moves in a ${module.kind}`;
  return { parameter, kind: module.kind, resting: module.values[to.parameter] };
}

/** The amount of a route as a parameter of its own: in the target's unit, and itself able to move. */
export function amountParameter(target: Parameter): Parameter {
  const { unit, min, max } = target.routing!;
  return {
    label: `${target.label} by`,
    unit,
    min: Math.max(-200, min),
    max: Math.min(200, max),
    default: 0,
    scale: 'linear',
    step: unit === '' || unit === 's' || unit === 'octaves' ? 0.001 : 0.1,
    routing: { unit, combine: 'add', min, max },
    moves: target.moves,
  };
}

/** The macros and modulators that a route of a layer can start from. */
export const originsOf = (patch: Pick<Patch, 'macros'>, layer: Layer): (Layer['modulators'][number] | Macro)[] => [
  ...layer.modulators,
  ...patch.macros,
];

/** Parameters that a route from the place among unison voices can reach: each voice has its own. */
export const PER_UNISON_VOICE: ReadonlySet<string> = new Set(['semitones', 'levelDb', 'pan']);
