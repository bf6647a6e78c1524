import type { Effect, Layer, Patch } from '../schema';

/** What is listened to apart from the patch itself: one element alone, and movements made larger. */
export interface Audition {
  /**
   * A layer, or one element of a layer, that sounds alone; with no layer, an effect of a group's chain or the
   * patch's.
   */
  solo: { layerId: string | null; moduleId: string | null } | null;
  /** A route, or a modulator with all of its routes, that acts three times as strongly. */
  exaggerated: { layerId: string; id: string } | null;
}

/** An effect as it is played. */
export type HeardEffect = Effect & {
  /** Whether only what it adds is let through: what comes out, less what went in. */
  onlyAdded?: boolean;
};

export const NO_AUDITION: Audition = { solo: null, exaggerated: null };

const EXAGGERATION = 3;
const MAX_AMOUNT = 200;

/** The patch as it is to be heard now; the patch itself when nothing is soloed or exaggerated. */
export function auditionedPatch(patch: Patch, { solo, exaggerated }: Audition): Patch {
  if (!solo && !exaggerated) return patch;
  const shared = solo?.layerId === null ? solo.moduleId : null;
  const group = patch.groups.find(({ effects }) => effects.some(({ id }) => id === shared));
  return {
    ...patch,
    effects: shared ? addedBy(patch.effects, shared) : patch.effects,
    groups: patch.groups.map((group) => (shared ? { ...group, effects: addedBy(group.effects, shared) } : group)),
    layers: patch.layers.map((layer) => {
      let heard = layer;
      if (shared && group && layer.groupId !== group.id) return { ...layer, on: false };
      if (exaggerated?.layerId === layer.id) heard = exaggerate(heard, exaggerated.id);
      if (solo && !shared) heard = solo.layerId === layer.id ? soloed(heard, solo.moduleId) : { ...heard, on: false };
      return heard;
    }),
  };
}

/**
 * A chain of which is heard what one effect adds: what comes before it goes on, what comes after it is off.
 */
function addedBy(effects: readonly Effect[], id: string): HeardEffect[] {
  const index = effects.findIndex((effect) => effect.id === id);
  if (index < 0) return [...effects];
  return effects.map((effect, i) =>
    i === index ? { ...effect, onlyAdded: true } : i > index ? { ...effect, on: false } : effect,
  );
}

function exaggerate(layer: Layer, id: string): Layer {
  return {
    ...layer,
    routes: layer.routes.map((route) =>
      route.id === id || route.from === id || route.to.moduleId === id
        ? { ...route, amount: Math.max(-MAX_AMOUNT, Math.min(MAX_AMOUNT, EXAGGERATION * route.amount)) }
        : route,
    ),
  };
}

/**
 * One element alone. A source: the others are silent, though they still modulate it. A filter or the shaper:
 * the rest of the shaping is off. An effect: what it adds to what comes before it. A modulator or route:
 * nothing else moves. A whole layer: as it is.
 */
function soloed(layer: Layer, moduleId: string | null): Layer {
  if (moduleId === null) return layer;
  if (layer.sources.some(({ id }) => id === moduleId)) {
    return {
      ...layer,
      sources: layer.sources.map((source) => (source.id === moduleId ? source : { ...source, levelDb: -96 })),
    };
  }
  const [first, second] = layer.filters;
  if (first.id === moduleId || second.id === moduleId || layer.shaper.id === moduleId) {
    return {
      ...layer,
      filters: [
        { ...first, on: first.on && first.id === moduleId },
        { ...second, on: second.on && second.id === moduleId },
      ],
      shaper: { ...layer.shaper, on: layer.shaper.on && layer.shaper.id === moduleId },
    };
  }
  if (layer.effects.some(({ id }) => id === moduleId)) {
    return { ...layer, effects: addedBy(layer.effects, moduleId) };
  }
  if (layer.interactions.some(({ id }) => id === moduleId)) {
    return {
      ...layer,
      interactions: layer.interactions.map((other) => ({ ...other, on: other.on && other.id === moduleId })),
    };
  }
  return {
    ...layer,
    routes: layer.routes.map((route) => ({
      ...route,
      on: route.on && (route.from === moduleId || route.id === moduleId),
    })),
  };
}
