import type { Layer, Source } from '@imprint/core/patch/schema';
import { addInteraction } from '@imprint/core/patch/edit';
import { sourceTitle } from '@imprint/core/patch/words';
import { addToLayer, usePatchStore } from '../../stores/patchStore';
import { selectModule } from './selectionStore';

/** Lets another source, or the source itself, modulate this one. */
export function InteractionMenu({ layer, source }: { layer: Layer; source: Source }) {
  const patch = usePatchStore((state) => state.patch)!;
  const others = layer.sources.filter(({ id }) => id !== source.id);
  const takesFm = source.kind !== 'noise' && source.kind !== 'sample';
  const numbered = (other: Source) => `${layer.sources.indexOf(other) + 1}, ${sourceTitle(other, patch)}`;
  const add = (value: string) => {
    const [kind, from] = value.split(' ') as ['fm' | 'ring' | 'ringTone', string | undefined];
    selectModule(addToLayer(layer.id, (old) => addInteraction(old, kind, source.id, from)));
  };
  return (
    <select
      className="select select-xs mt-2 w-56"
      aria-label="Modulate this source"
      value=""
      onChange={({ target }) => add(target.value)}
    >
      <option value="" disabled>
        Modulate this source …
      </option>
      {takesFm && (
        <optgroup label="FM from">
          {others.map((other) => (
            <option key={other.id} value={`fm ${other.id}`}>
              {numbered(other)}
            </option>
          ))}
          <option value={`fm ${source.id}`}>itself (feedback)</option>
        </optgroup>
      )}
      <optgroup label="Ring modulation with">
        {others.map((other) => (
          <option key={other.id} value={`ring ${other.id}`}>
            {numbered(other)}
          </option>
        ))}
        <option value="ringTone">a tone of its own</option>
      </optgroup>
    </select>
  );
}
