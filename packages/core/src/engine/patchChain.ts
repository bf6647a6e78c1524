import { parametersOf } from '../parameters/table';
import type { Patch } from '../patch/schema';
import { type EffectProgram, compileEffect } from './effects/effect';
import type { PatchResources } from './resources';

/** The chain of a patch as it is run: nothing moves its numbers but the player's hand. */
export interface PatchChainProgram {
  effects: EffectProgram[];
  values: Float64Array;
}

export function compilePatchChain(
  { effects, bpm }: Pick<Patch, 'effects' | 'bpm'>,
  resources: PatchResources,
): PatchChainProgram {
  const values: number[] = [];
  const programs = effects.map((spec): EffectProgram => {
    const numbers = spec as unknown as Record<string, number>;
    const slots = Object.fromEntries(
      Object.keys(parametersOf(spec.kind)).map((name) => [name, values.push(numbers[name]) - 1]),
    );
    return compileEffect(spec, slots, bpm, resources);
  });
  return { effects: programs, values: Float64Array.from(values) };
}
