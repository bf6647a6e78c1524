import { movedValue } from '../../parameters/parameter';
import { parameterOf, parametersOf } from '../../parameters/table';
import type { Effect, Patch } from '../../patch/schema';
import { type EffectProgram, type Surroundings, compileEffect } from '../effects/chain/effect';
import { type EffectChain, createEffectChain } from '../effects/chain/effectChain';
import type { PatchResources } from '../program/resources';

/**
 * A chain of several layers as it is run: what moves its numbers is the player's hand, by themselves and by
 * macros.
 */
export interface SumProgram {
  effects: EffectProgram[];
  values: Float64Array;
}

/** What the numbers of such a chain depend on besides itself. */
export type SumContext = Pick<Patch, 'bpm' | 'macros' | 'routes'>;

export function compileSum(context: SumContext, effects: readonly Effect[], resources: PatchResources): SumProgram {
  const values: number[] = [];
  const programs = effects.map((spec): EffectProgram => {
    const slots = Object.fromEntries(
      Object.keys(parametersOf(spec.kind)).map((name) => [name, values.push(valueOf(context, spec, name)) - 1]),
    );
    return compileEffect(spec, slots, context.bpm, resources);
  });
  return { effects: programs, values: Float64Array.from(values) };
}

/** A number of an effect where the macros have moved it to. */
function valueOf({ macros, routes }: SumContext, effect: Effect, name: string): number {
  const resting = (effect as unknown as Record<string, number>)[name];
  const arriving = routes.filter(({ on, to }) => on && to.moduleId === effect.id && to.parameter === name);
  if (arriving.length === 0) return resting;
  const moved = arriving.reduce((sum, { from, amount, polarity }) => {
    const share = (macros.find(({ id }) => id === from)?.value ?? 0) / 100;
    return sum + amount * (polarity === 'bipolar' ? 2 * share - 1 : share);
  }, 0);
  return movedValue(parameterOf(effect.kind, name)!, resting, moved);
}

/**
 * The chain of a group, or of the whole patch: it goes on as it is while only numbers and switches change.
 */
export interface SumChain extends Pick<EffectChain, 'latency' | 'clear'> {
  /** The effects; undefined when there are none. */
  readonly chain: EffectChain | undefined;
  /**
   * Takes over changed effects. True when there are others than before, or in another order: then it starts
   * anew.
   */
  set(context: SumContext, effects: readonly Effect[], resources: PatchResources): boolean;
  run(left: Float64Array, right: Float64Array, around: Surroundings): void;
}

export function createSumChain(sampleRateHz: number): SumChain {
  let chain: EffectChain | undefined;
  let program: SumProgram = { effects: [], values: new Float64Array(0) };
  let structure = '[]';
  return {
    get chain() {
      return chain;
    },
    get latency() {
      return chain?.latency ?? 0;
    },
    clear: () => chain?.clear(),
    set(context, effects, resources) {
      program = compileSum(context, effects, resources);
      const next = JSON.stringify(effects.map(({ id, kind }) => [id, kind]));
      if (next === structure) return false;
      structure = next;
      chain = effects.length > 0 ? createEffectChain(sampleRateHz, effects) : undefined;
      return true;
    },
    run: (left, right, around) => chain?.run(program.effects, program.values, left, right, around),
  };
}
