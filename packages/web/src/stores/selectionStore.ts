import { create } from 'zustand';
import { type Layer, type Patch } from '@imprint/core/patch/schema';

/** What has no id of its own in a layer, but rulers. */
export const VOICE = 'voice';

/**
 * The layer that is built, and the element of it whose rulers are shown; the layer's own id stands for its
 * level.
 */
export const useSelection = create<{ layerId: string; moduleId: string }>(() => ({
  layerId: '',
  moduleId: 'filter-1',
}));

export const selectModule = (moduleId: string) => useSelection.setState({ moduleId });
export const selectLayer = (layerId: string, moduleId = layerId) => useSelection.setState({ layerId, moduleId });

/** The chosen layer, or the first when that one is gone. */
export const chosenLayer = (patch: Patch, layerId: string): Layer =>
  patch.layers.find(({ id }) => id === layerId) ?? patch.layers[0];
