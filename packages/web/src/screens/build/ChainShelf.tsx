import { type ChainPreset, addPreset, chainPresets, hasRoomFor } from '@imprint/core/patch/chainPresets';
import type { ChainOwner } from '@imprint/core/patch/chains';
import { toast } from 'sonner';
import { ActionMenu } from '../../components/ActionMenu';
import { addToPatch, usePatchStore } from '../../stores/patchStore';
import { selectModule } from './selectionStore';

const options = Object.fromEntries(chainPresets.map(({ name, purpose }) => [name, `${name}: ${purpose}`]));

/** Chains from the shelf, to put behind what is there. */
export function ChainShelf({ owner }: { owner: ChainOwner }) {
  const add = (name: string) => {
    const preset = chainPresets.find((other): other is ChainPreset => other.name === name)!;
    const { patch } = usePatchStore.getState();
    if (patch && !hasRoomFor(patch, owner, preset)) {
      toast.error(`“${name}” has ${preset.effects.length} effects, for which this chain has no room.`);
      return;
    }
    selectModule(addToPatch((old) => addPreset(old, owner, preset)));
  };
  return (
    <ActionMenu
      label={`From the shelf, ${owner.of}`}
      prompt="Shelf"
      title="Adds a chain from the shelf"
      className="select-ghost w-[66px] px-1"
      options={options}
      onPick={add}
    />
  );
}
