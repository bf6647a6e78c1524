import { addEffect, addLayerEffect, freeId, moved } from '@imprint/core/patch/edit';
import { MAX_EFFECTS } from '@imprint/core/patch/effectSchema';
import type { Effect, EffectKind, Layer, Patch } from '@imprint/core/patch/schema';
import { effectDetail, effectTitles } from '@imprint/core/patch/words';
import { addToLayer, editLayer, editModule, editPatchEffect, usePatchStore } from '../../stores/patchStore';
import { AddMenu, Heading } from './StripParts';
import { SortableList } from './SortableList';
import { SortableRow } from './StripRow';
import { selectModule, useSelection } from './selectionStore';

/** The effects that the sum of a layer's notes is put through. */
export function LayerChain({ layer }: { layer: Layer }) {
  return (
    <Chain
      title="Chain"
      label="Add an effect"
      effects={layer.effects}
      onAdd={(kind) => selectModule(addToLayer(layer.id, (old) => addLayerEffect(old, kind)))}
      onMove={(from, to) => editLayer(layer.id, (old) => ({ ...old, effects: moved(old.effects, from, to) }))}
      onSwitch={(id, on) => editModule(layer.id, id, { on })}
      solo={(moduleId) => ({ layerId: layer.id, moduleId })}
    />
  );
}

/** The effects that the sum of all layers is put through. */
export function PatchChain({ patch }: { patch: Patch }) {
  const { edit } = usePatchStore.getState();
  const add = (kind: EffectKind) => {
    const id = freeId('last', new Set(patch.effects.map((effect) => effect.id)));
    edit((old) => addEffect(old, kind, id));
    selectModule(id);
  };
  return (
    <Chain
      title="Chain of all layers"
      label="Add an effect to all layers"
      effects={patch.effects}
      onAdd={add}
      onMove={(from, to) => edit((old) => ({ ...old, effects: moved(old.effects, from, to) }))}
      onSwitch={(id, on) => editPatchEffect(id, { on })}
    />
  );
}

interface ChainProps {
  title: string;
  label: string;
  effects: readonly Effect[];
  onAdd: (kind: EffectKind) => void;
  onMove: (from: number, to: number) => void;
  onSwitch: (id: string, on: boolean) => void;
  solo?: (id: string) => { layerId: string; moduleId: string };
}

function Chain({ title, label, effects, onAdd, onMove, onSwitch, solo }: ChainProps) {
  const moduleId = useSelection((selection) => selection.moduleId);
  const full = effects.length >= MAX_EFFECTS;
  return (
    <>
      <Heading
        title={title}
        action={!full && <AddMenu label={label} options={effectTitles} onAdd={(kind) => onAdd(kind as EffectKind)} />}
      />
      {effects.length === 0 && <p className="px-[14px] text-soft">No effects.</p>}
      <SortableList ids={effects.map(({ id }) => id)} onMove={onMove}>
        {effects.map((effect) => (
          <SortableRow
            key={effect.id}
            id={effect.id}
            title={effectTitles[effect.kind]}
            detail={effectDetail(effect)}
            selected={moduleId === effect.id}
            onSelect={() => selectModule(effect.id)}
            on={effect.on}
            onSwitch={(on) => onSwitch(effect.id, on)}
            solo={solo?.(effect.id)}
          />
        ))}
      </SortableList>
    </>
  );
}
