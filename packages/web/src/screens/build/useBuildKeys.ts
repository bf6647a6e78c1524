import { modulesOf } from '@imprint/core/patch/modules';
import { turnLockOf } from '../../components/LockButton';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { create } from 'zustand';
import {
  addSource,
  duplicateSource,
  moved,
  pasteModulator,
  removeFromLayer,
  removeLayer,
} from '@imprint/core/patch/edits/edit';
import { addEffect, chainOf, ownerOf, removeEffect, withChain } from '@imprint/core/patch/edits/chains';
import type { Layer, Modulator, Patch, Source } from '@imprint/core/patch/schema';
import { useShortcut } from '../../app/useShortcut';
import { exaggerate, stopExaggerating, toggleSolo } from '../../stores/auditionStore';
import { addToLayer, addToPatch, editLayer, editEffect, editModule, usePatchStore } from '../../stores/patchStore';
import { copyLayer } from './editor/LayerEditor';
import { selectModule, useSelection } from '../../stores/selectionStore';

type Copied =
  | { kind: 'source'; source: Source }
  | { kind: 'modulator'; modulator: Modulator }
  | { kind: 'layer'; layer: Layer };

/** What was copied last; it outlives the screen and the study. */
const useClipboard = create<{ copied: Copied | null }>(() => ({ copied: null }));

/** The keys of the Build screen, for the chosen element. */
export function useBuildKeys(layer: Layer, patch: Patch): void {
  const moduleId = useSelection((selection) => selection.moduleId);
  const ofLayer = moduleId === layer.id;
  const source = layer.sources.find(({ id }) => id === moduleId);
  const modulator = layer.modulators.find(({ id }) => id === moduleId);
  const owner = ownerOf(patch, layer, moduleId);
  const effect = owner && chainOf(patch, owner).find(({ id }) => id === moduleId);
  const on = switchOf(layer, moduleId);
  const dependencies = [layer, patch, moduleId];
  const { edit } = usePatchStore.getState();

  useShortcut(
    'solo',
    () => toggleSolo(owner && owner.of !== 'layer' ? null : layer.id, ofLayer ? null : moduleId),
    dependencies,
  );
  useShortcut(
    'switch',
    () => {
      if (ofLayer) editLayer(layer.id, (old) => ({ ...old, on: !old.on }));
      else if (owner && effect) editEffect(owner, effect.id, { on: !effect.on });
      else if (on !== undefined) editModule(layer.id, moduleId, { on: !on });
    },
    dependencies,
  );
  useShortcut(
    'lock',
    () => modulesOf(layer).some(({ id }) => id === moduleId) && turnLockOf({ layerId: layer.id, moduleId }),
    dependencies,
  );
  useShortcut('exaggerate', (event) => !event.repeat && exaggerate(layer.id, moduleId), dependencies);
  useEffect(() => {
    const onKeyUp = ({ key }: KeyboardEvent) => key.toLowerCase() === 'w' && stopExaggerating();
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', stopExaggerating);
    return () => {
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', stopExaggerating);
    };
  }, []);

  useShortcut(
    'duplicate',
    () => {
      if (ofLayer) copyLayer(layer);
      else if (source) selectModule(addToLayer(layer.id, (old) => duplicateSource(old, source.id)));
      else if (modulator) selectModule(addToLayer(layer.id, (old) => pasteModulator(old, modulator)));
      else if (owner && effect) selectModule(addToPatch((old) => addEffect(old, owner, effect.kind, effect)));
    },
    dependencies,
  );
  useShortcut(
    'remove',
    () => {
      if (ofLayer) edit((old) => removeLayer(old, layer.id));
      else if (owner) edit((old) => removeEffect(old, owner, moduleId));
      else editLayer(layer.id, (old) => removeFromLayer(old, moduleId));
    },
    dependencies,
  );
  const move = (step: -1 | 1) => {
    if (ofLayer) {
      edit((old) => {
        const index = old.layers.findIndex(({ id }) => id === layer.id);
        return { ...old, layers: shifted(old.layers, index, step) };
      });
    } else if (source) {
      editLayer(layer.id, (old) => ({ ...old, sources: shifted(old.sources, old.sources.indexOf(source), step) }));
    } else if (owner && effect) {
      edit((old) => withChain(old, owner, (list) => shifted(list, list.indexOf(effect), step)));
    } else if (modulator) {
      editLayer(layer.id, (old) => ({
        ...old,
        modulators: shifted(old.modulators, old.modulators.indexOf(modulator), step),
      }));
    }
  };
  useShortcut('moveUp', () => move(-1), dependencies);
  useShortcut('moveDown', () => move(1), dependencies);

  useShortcut(
    'copy',
    () => {
      const copied: Copied | null = ofLayer
        ? { kind: 'layer', layer }
        : source
          ? { kind: 'source', source }
          : modulator
            ? { kind: 'modulator', modulator }
            : null;
      if (!copied) return;
      useClipboard.setState({ copied });
      toast('Copied. Ctrl V puts it into the chosen layer.');
    },
    dependencies,
  );
  useShortcut(
    'paste',
    () => {
      const { copied } = useClipboard.getState();
      if (copied?.kind === 'layer') copyLayer(copied.layer);
      else if (copied?.kind === 'modulator')
        selectModule(addToLayer(layer.id, (old) => pasteModulator(old, copied.modulator)));
      else if (copied?.kind === 'source') {
        const { source: pasted } = copied;
        selectModule(addToLayer(layer.id, (old) => addSource(old, pasted.kind, pasted)));
      }
    },
    dependencies,
  );
}

const switchOf = (layer: Layer, id: string): boolean | undefined =>
  [...layer.sources, ...layer.interactions, ...layer.filters, layer.shaper, ...layer.routes].find(
    (module) => module.id === id,
  )?.on;

function shifted<T>(list: readonly T[], index: number, step: -1 | 1): T[] {
  const to = index + step;
  return index < 0 || to < 0 || to >= list.length ? [...list] : moved(list, index, to);
}
