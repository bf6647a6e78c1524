import { chainTitles, layerTitles } from '../words/words';
import { type ChainOwner, removeEffect } from './chains';
import { dropUnused, removeFromLayer, removeLayer } from './edit';
import type { Layer, Patch } from '../schema';

/** A part of a patch that can be taken out by itself. */
export interface Part {
  title: string;
  /** Null for an effect of a group or of the patch. */
  layerId: string | null;
  /** Null for the whole layer. */
  moduleId: string | null;
}

/** All that is heard in a patch and can be taken out by itself, in signal order. */
export function partsOf(patch: Patch): Part[] {
  const heard = patch.layers.filter(({ on }) => on);
  const shared: { effects: Patch['effects'] }[] = [...patch.groups, patch];
  return [
    ...heard.flatMap((layer) => [
      ...(heard.length > 1 ? [{ title: layer.name, layerId: layer.id, moduleId: null }] : []),
      ...partsOfLayer(layer, patch),
    ]),
    ...shared.flatMap(({ effects }) => {
      const titles = chainTitles(effects);
      return effects
        .filter(({ on }) => on)
        .map(({ id }): Part => ({ title: titles.get(id)!, layerId: null, moduleId: id }));
    }),
  ];
}

function partsOfLayer(layer: Layer, patch: Patch): Part[] {
  const titles = layerTitles(layer, patch);
  const sources = layer.sources.filter(({ on }) => on);
  const acts = (id: string) => layer.routes.some(({ from, on, amount }) => from === id && on && amount !== 0);
  const parts = [
    // Without its only source there is nothing to compare.
    ...(sources.length > 1 ? sources : []),
    ...layer.interactions.filter(({ on }) => on),
    ...[...layer.filters, layer.shaper, ...layer.effects].filter(({ on }) => on),
    ...layer.modulators.filter(({ id }) => acts(id)),
  ];
  return parts.map(({ id }) => ({ title: titles.get(id) ?? id, layerId: layer.id, moduleId: id }));
}

/** The patch without a part and all that belongs to it; filters and shaper are switched off. */
export function takeOut(patch: Patch, { layerId, moduleId }: Part): Patch {
  if (moduleId === null) return removeLayer(patch, layerId!);
  if (layerId === null) {
    const group = patch.groups.find(({ effects }) => effects.some(({ id }) => id === moduleId));
    const owner: ChainOwner = group ? { of: 'group', id: group.id } : { of: 'patch' };
    return dropUnused(removeEffect(patch, owner, moduleId));
  }
  const layers = patch.layers.map((layer) => (layer.id === layerId ? withoutModule(layer, moduleId) : layer));
  return dropUnused({ ...patch, layers });
}

function withoutModule(layer: Layer, id: string): Layer {
  const off = <T extends { id: string; on: boolean }>(module: T): T =>
    module.id === id ? { ...module, on: false } : module;
  const isFixed = [...layer.filters, layer.shaper].some((module) => module.id === id);
  if (!isFixed) return removeFromLayer(layer, id);
  return { ...layer, filters: [off(layer.filters[0]), off(layer.filters[1])], shaper: off(layer.shaper) };
}
