import { temporal } from 'zundo';
import { create, useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { type ChainOwner, setEffect } from '@imprint/core/patch/edits/chains';
import { addSample, dropUnused, setFields } from '@imprint/core/patch/edits/edit';
import { atTrackTempo } from '@imprint/core/patch/tempo';
import type { Layer, Patch, Sample } from '@imprint/core/patch/schema';

interface PatchState {
  patch: Patch | null;
  /** Takes over another patch; one step to undo. */
  setPatch(patch: Patch | null): void;
  /**
   * Changes the patch by a function that returns a changed copy; one step to undo, or part of a running
   * gesture.
   */
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
        // What nothing plays any more goes with the edit that left it.
        set(({ patch }) => (patch ? { patch: dropUnused(change(patch)) } : {}));
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

/** Sets fields of an effect, whichever chain it is in. */
export function editEffect(owner: ChainOwner, id: string, fields: Record<string, unknown>): void {
  usePatchStore.getState().edit((patch) => setEffect(patch, owner, id, fields));
}

/** Puts a sample into the patch, unless it is there already, and has an edit made with its id there. */
export function withSample(sample: Sample, use: (patch: Patch, sampleId: string) => Patch): void {
  usePatchStore.getState().edit((patch) => use(...addSample(patch, sample)));
}

/** Follows the tempo of the study's track; no step to undo. */
export function followTempo(trackBpm: number | null): void {
  const { patch, setPatch } = usePatchStore.getState();
  const followed = patch && atTrackTempo(patch, trackBpm);
  if (!followed || followed === patch) return;
  const { pause, resume, isTracking } = usePatchStore.temporal.getState();
  pause();
  setPatch(followed);
  if (isTracking) resume();
}

/** Runs an edit that adds something to the patch, and returns the id of what it added. */
export function addToPatch(add: (patch: Patch) => [Patch, string]): string {
  let added = '';
  usePatchStore.getState().edit((patch) => {
    const [changed, id] = add(patch);
    added = id;
    return changed;
  });
  return added;
}

/** Runs an edit that adds something to a layer, and returns the id of what it added. */
export function addToLayer(layerId: string, add: (layer: Layer) => [Layer, string]): string {
  return addToPatch((patch) => {
    let added = '';
    const layers = patch.layers.map((layer) => {
      if (layer.id !== layerId) return layer;
      const [changed, id] = add(layer);
      added = id;
      return changed;
    });
    return [{ ...patch, layers }, added];
  });
}
