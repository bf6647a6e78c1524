import { type Parameter, type RoutingMoment } from '../../parameters/parameter';
import { parametersOf } from '../../parameters/table';
import { type Module, amountParameter, modulesOf, targetOf } from '../../patch/modules';
import type { Layer, Route } from '../../patch/schema';

/**
 * Every number of a layer in one array, so that a voice reads its values by index. Most stay at their base;
 * those that routes arrive at are worked out anew at every block, or once when a note starts.
 */
export interface SlotTable {
  base: Float64Array;
  min: Float64Array;
  max: Float64Array;
  /** How much of a route's amount doubles the value; 0 where amounts are added to it. */
  perOctave: Float64Array;
}

const PER_OCTAVE = { add: 0, semitones: 12, octaves: 1 } as const;

export interface SlotBuilder {
  table(): SlotTable;
  /** Index by parameter name of all numbers of a module. */
  of(moduleId: string): Readonly<Record<string, number>>;
  /** Slot that a route arrives at, and when it is read. */
  target(to: Route['to']): { slot: number; moment: RoutingMoment };
  /** Slot of a route's amount, or −1 when nothing moves it. */
  amountOf(routeId: string): number;
}

export function buildSlots(layer: Layer): SlotBuilder {
  const parameters: Parameter[] = [];
  const base: number[] = [];
  const modules = new Map<string, Record<string, number>>();
  const amounts = new Map<string, number>();

  const add = (parameter: Parameter, value: number) => {
    parameters.push(parameter);
    return base.push(value) - 1;
  };
  for (const module of modulesOf(layer)) modules.set(module.id, addModule(module));
  for (const route of layer.routes) {
    const moved = layer.routes.some(({ on, to }) => on && to.moduleId === route.id);
    if (!moved) continue;
    const target = targetOf(layer, route.to);
    if (typeof target === 'string') throw new Error(`Route "${route.id}" goes to ${target}.`);
    amounts.set(route.id, add(amountParameter(target.parameter), route.amount));
  }

  function addModule({ kind, values }: Module): Record<string, number> {
    return Object.fromEntries(
      Object.entries(parametersOf(kind)).map(([name, parameter]) => [name, add(parameter, values[name])]),
    );
  }

  return {
    table: () => ({
      base: Float64Array.from(base),
      min: Float64Array.from(parameters, ({ min }) => min),
      max: Float64Array.from(parameters, ({ max }) => max),
      perOctave: Float64Array.from(parameters, ({ routing }) => PER_OCTAVE[routing?.combine ?? 'add']),
    }),
    of: (moduleId) => modules.get(moduleId)!,
    target({ moduleId, parameter }) {
      const amount = amounts.get(moduleId);
      const slot = amount ?? modules.get(moduleId)![parameter];
      return { slot, moment: parameters[slot].routing?.moment ?? 'always' };
    },
    amountOf: (routeId) => amounts.get(routeId) ?? -1,
  };
}
