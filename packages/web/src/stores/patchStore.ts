import { temporal } from 'zundo';
import { create, useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { freeId, setFields } from '@imprint/core/patch/edit';
import type { Effect, Layer, Patch, Sample } from '@imprint/core/patch/schema';

interface PatchState {
  patch: Patch | null;
  /** Takes over another patch; one step to undo. */
  setPatch(patch: Patch | null): void;
  /** Changes the patch by a function that returns a changed copy; one step to undo, or part of a running gesture. */
  edit(change: (patch: Patch) => Patch): void;
}

const UNDO_STEPS = 200;

/** The patch being rebuilt, with undo and redo of every edit. */
export const usePatchStore = create<PatchState>()(
  temporal(
    (set) => ({
      patch: null,
      setPatch: (patch) => set({ patch }),
      edit: (change) => {
        set(({ patch }) => (patch ? { patch: change(patch) } : {}));
        // Everything after a gesture's first change belongs to the same step.
        if (inGesture) usePatchStore.temporal.getState().pause();
      },
    }),
    { limit: UNDO_STEPS, partialize: ({ patch }) => ({ patch }), equality: (a, b) => a.patch === b.patch },
  ),
);

let inGesture = false;

/** Edits between begin and end (a drag, a turn of the wheel) are undone as one. */
export const gesture = {
  begin() {
    inGesture = true;
  },
  end() {
    inGesture = false;
    usePatchStore.temporal.getState().resume();
  },
};

export const undo = () => usePatchStore.temporal.getState().undo();
export const redo = () => usePatchStore.temporal.getState().redo();
export const forgetHistory = () => usePatchStore.temporal.getState().clear();

export function useHistory() {
  return useStore(
    usePatchStore.temporal,
    useShallow(({ pastStates, futureStates }) => ({
      canUndo: pastStates.length > 0,
      canRedo: futureStates.length > 0,
    })),
  );
}

/** Changes one layer of the patch. */
export function editLayer(layerId: string, change: (layer: Layer) => Layer): void {
  usePatchStore.getState().edit((patch) => ({
    ...patch,
    layers: patch.layers.map((layer) => (layer.id === layerId ? change(layer) : layer)),
  }));
}

/** Sets fields of anything in a layer that has an id: a source, a filter, a modulator, a route. */
export function editModule(layerId: string, moduleId: string, fields: Record<string, unknown>): void {
  editLayer(layerId, (layer) => setFields(layer, moduleId, fields));
}

/** Sets fields of an effect in the chain of the whole patch. */
export function editPatchEffect(id: string, fields: Record<string, unknown>): void {
  usePatchStore.getState().edit((patch) => ({
    ...patch,
    effects: patch.effects.map((effect) => (effect.id === id ? ({ ...effect, ...fields } as Effect) : effect)),
  }));
}

/** Puts a sample into the patch and returns its id there. */
export function addSample(sample: Sample): string {
  const { patch, edit } = usePatchStore.getState();
  const id = freeId('sample', new Set(patch?.samples.map((other) => other.id)));
  edit((old) => ({ ...old, samples: [...old.samples, { ...sample, id }] }));
  return id;
}

/** Runs an edit that adds something to a layer, and returns the id of what it added. */
export function addToLayer(layerId: string, add: (layer: Layer) => [Layer, string]): string {
  let added = '';
  editLayer(layerId, (layer) => {
    const [changed, id] = add(layer);
    added = id;
    return changed;
  });
  return added;
}
