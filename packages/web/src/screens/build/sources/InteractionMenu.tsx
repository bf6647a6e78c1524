import type { Layer, Source } from '@imprint/core/patch/schema';
import { addInteraction } from '@imprint/core/patch/edits/edit';
import { layerTitles } from '@imprint/core/patch/words/words';
import { ActionMenu } from '../../../components/ActionMenu';
import { addToLayer, usePatchStore } from '../../../stores/patchStore';
import { selectModule } from '../../../stores/selectionStore';

/** Lets another source, or the source itself, modulate this one. */
export function InteractionMenu({ layer, source }: { layer: Layer; source: Source }) {
  const patch = usePatchStore((state) => state.patch)!;
  const titles = layerTitles(layer, patch);
  const others = layer.sources.filter(({ id }) => id !== source.id);
  const takesFm = source.kind !== 'noise' && source.kind !== 'sample';
  const from = (kind: 'fm' | 'ring') =>
    Object.fromEntries(others.map((other) => [`${kind} ${other.id}`, titles.get(other.id)!]));
  const add = (value: string) => {
    const [kind, origin] = value.split(' ') as ['fm' | 'ring' | 'ringTone', string | undefined];
    selectModule(addToLayer(layer.id, (old) => addInteraction(old, kind, source.id, origin)));
  };
  return (
    <ActionMenu
      label="Modulate this source"
      prompt="Modulate this source …"
      className="mt-2 w-56"
      groups={[
        { title: 'FM from', options: takesFm ? { ...from('fm'), [`fm ${source.id}`]: 'itself (feedback)' } : {} },
        { title: 'Ring modulation with', options: { ...from('ring'), ringTone: 'a tone of its own' } },
      ]}
      onPick={add}
    />
  );
}
