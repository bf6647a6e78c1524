import { type Delay, createDelay } from '../../dsp/halfband';
import type { Patch } from '../../patch/schema';
import type { EffectChain } from '../effects/chain/effectChain';
import type { Surroundings } from '../effects/chain/effect';
import type { PatchResources } from '../program/resources';
import { BLOCK_SAMPLES } from '../sources/source';
import { type SumChain, createSumChain } from './sumChain';

type Sides = readonly [left: Float64Array, right: Float64Array];

/** Layers that are put through a chain together, before the chain of the patch. */
export interface Groups {
  readonly latency: number;
  /** True when effects were added, taken away or reordered. */
  set(patch: Patch, resources: PatchResources): boolean;
  /** Empties the blocks of all groups. */
  begin(): void;
  /** Where a layer of a group is added to; undefined when there is no such group. */
  sidesOf(groupId: string | null): Sides | undefined;
  /** Adds what the groups make to a block, which is held back by as much as they are late. */
  addTo(left: Float64Array, right: Float64Array, around: Surroundings): void;
  clear(): void;
  chainOf(groupId: string): EffectChain | undefined;
}

interface Group {
  id: string;
  sides: Sides;
  chain: SumChain;
  delays: Delay[];
}

const delaysOf = (samples: number): Delay[] =>
  samples > 0 ? [0, 1].map(() => createDelay(samples, BLOCK_SAMPLES)) : [];

function hold(delays: readonly Delay[], left: Float64Array, right: Float64Array): void {
  if (delays.length === 0) return;
  delays[0].run(left, 0, BLOCK_SAMPLES);
  delays[1].run(right, 0, BLOCK_SAMPLES);
}

export function createGroups(sampleRateHz: number): Groups {
  let groups: Group[] = [];
  let direct: Delay[] = [];
  let latency = 0;

  /** All paths as late as the latest. */
  function align(): void {
    latency = groups.reduce((most, { chain }) => Math.max(most, chain.latency), 0);
    direct = delaysOf(latency);
    for (const group of groups) group.delays = delaysOf(latency - group.chain.latency);
  }

  return {
    get latency() {
      return latency;
    },
    set(patch, resources) {
      const before = groups;
      groups = patch.groups.map(
        ({ id }) =>
          before.find((group) => group.id === id) ?? {
            id,
            sides: [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)] as const,
            chain: createSumChain(sampleRateHz),
            delays: [],
          },
      );
      let changed = before.length !== groups.length;
      patch.groups.forEach(({ effects }, g) => {
        if (groups[g].chain.set(patch, effects, resources)) changed = true;
      });
      if (changed) align();
      return changed;
    },
    begin() {
      for (let g = 0; g < groups.length; g++) {
        groups[g].sides[0].fill(0);
        groups[g].sides[1].fill(0);
      }
    },
    sidesOf(groupId) {
      if (groupId !== null)
        for (let g = 0; g < groups.length; g++) if (groups[g].id === groupId) return groups[g].sides;
      return undefined;
    },
    addTo(left, right, around) {
      hold(direct, left, right);
      for (let g = 0; g < groups.length; g++) {
        const { sides, chain, delays } = groups[g];
        chain.run(sides[0], sides[1], around);
        hold(delays, sides[0], sides[1]);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          left[i] += sides[0][i];
          right[i] += sides[1][i];
        }
      }
    },
    clear() {
      for (const delay of direct) delay.clear();
      for (const { chain, delays } of groups) {
        chain.clear();
        for (const delay of delays) delay.clear();
      }
    },
    chainOf(groupId) {
      for (let g = 0; g < groups.length; g++) if (groups[g].id === groupId) return groups[g].chain.chain;
      return undefined;
    },
  };
}
