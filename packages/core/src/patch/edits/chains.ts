import { parameterOf } from '../../parameters/table';
import { freeId, removeFromLayer } from './edit';
import { effectSchema } from '../schemas/effectSchema';
import { modulesOf } from '../modules';
import { routeSchema } from '../schemas/modulatorSchema';
import type { Effect, EffectKind, Layer, Patch, Route } from '../schema';

/** Whose chain: that of a layer, of a group, or of the whole patch. */
export type ChainOwner = { of: 'layer' | 'group'; id: string } | { of: 'patch' };

export function chainOf(patch: Patch, owner: ChainOwner): readonly Effect[] {
  switch (owner.of) {
    case 'layer':
      return patch.layers.find(({ id }) => id === owner.id)?.effects ?? [];
    case 'group':
      return patch.groups.find(({ id }) => id === owner.id)?.effects ?? [];
    case 'patch':
      return patch.effects;
  }
}

/** The patch with a chain changed by a function that returns a changed copy. */
export function withChain(patch: Patch, owner: ChainOwner, change: (effects: Effect[]) => Effect[]): Patch {
  const changed = <T extends { id: string; effects: Effect[] }>(list: T[]): T[] =>
    list.map((one) => (owner.of !== 'patch' && one.id === owner.id ? { ...one, effects: change(one.effects) } : one));
  switch (owner.of) {
    case 'layer':
      return { ...patch, layers: changed(patch.layers) };
    case 'group':
      return { ...patch, groups: changed(patch.groups) };
    case 'patch':
      return { ...patch, effects: change(patch.effects) };
  }
}

/** The chain among those that a layer goes through which holds an effect. */
export function ownerOf(patch: Patch, layer: Layer, effectId: string): ChainOwner | undefined {
  const owners: ChainOwner[] = [
    { of: 'layer', id: layer.id },
    ...(layer.groupId === null ? [] : [{ of: 'group', id: layer.groupId } as const]),
    { of: 'patch' },
  ];
  return owners.find((owner) => chainOf(patch, owner).some(({ id }) => id === effectId));
}

/** Effects of groups and of the patch, which share their ids. */
export const sharedEffects = ({ groups, effects }: Pick<Patch, 'groups' | 'effects'>): Effect[] => [
  ...groups.flatMap((group) => group.effects),
  ...effects,
];

/** An id for an effect that is new in a chain. */
function newId(patch: Patch, owner: ChainOwner): string {
  if (owner.of !== 'layer') return freeId('shared', new Set(sharedEffects(patch).map(({ id }) => id)));
  const layer = patch.layers.find(({ id }) => id === owner.id);
  return freeId('effect', new Set(layer ? [...modulesOf(layer), ...layer.routes].map(({ id }) => id) : []));
}

/** A new equaliser has a shelf at each end and a bell between, which do nothing yet. */
const newBands = ['off', 'lowShelf', 'off', 'off', 'bell', 'off', 'highShelf', 'off'].map((kind) => ({ kind }));

/** Adds an effect at the end of a chain, with the defaults of its kind where nothing else is given. */
export function addEffect(
  patch: Patch,
  owner: ChainOwner,
  kind: EffectKind,
  fields: Record<string, unknown> = {},
): [Patch, string] {
  const id = newId(patch, owner);
  const bands = kind === 'equalizer' ? { bands: newBands } : {};
  const effect = effectSchema.parse({ ...bands, ...fields, kind, id });
  return [withChain(patch, owner, (effects) => [...effects, effect]), id];
}

/** Sets fields of an effect. */
export const setEffect = (patch: Patch, owner: ChainOwner, id: string, fields: Record<string, unknown>): Patch =>
  withChain(patch, owner, (effects) =>
    effects.map((effect) => (effect.id === id ? ({ ...effect, ...fields } as Effect) : effect)),
  );

/** Takes an effect out, with the routes to it. */
export function removeEffect(patch: Patch, owner: ChainOwner, id: string): Patch {
  if (owner.of === 'layer')
    return {
      ...patch,
      layers: patch.layers.map((layer) => (layer.id === owner.id ? removeFromLayer(layer, id) : layer)),
    };
  const left = withChain(patch, owner, (effects) => effects.filter((effect) => effect.id !== id));
  return { ...left, routes: left.routes.filter(({ to }) => to.moduleId !== id) };
}

/** Puts a layer into a new group of its own. */
export function addGroup(patch: Patch, layerId: string): [Patch, string] {
  const id = freeId('group', new Set(patch.groups.map((group) => group.id)));
  const group = { id, name: `Group ${patch.groups.length + 1}`, effects: [] };
  return [joinGroup({ ...patch, groups: [...patch.groups, group] }, layerId, id), id];
}

/**
 * Puts a layer into a group, or with null into none; groups without layers go, with the routes to their
 * effects.
 */
export function joinGroup(patch: Patch, layerId: string, groupId: string | null): Patch {
  const layers = patch.layers.map((layer) => (layer.id === layerId ? { ...layer, groupId } : layer));
  return dropEmptyGroups({ ...patch, layers });
}

export function dropEmptyGroups(patch: Patch): Patch {
  const groups = patch.groups.filter(({ id }) => patch.layers.some(({ groupId }) => groupId === id));
  if (groups.length === patch.groups.length) return patch;
  const shared = new Set(sharedEffects({ ...patch, groups }).map(({ id }) => id));
  return { ...patch, groups, routes: patch.routes.filter(({ to }) => shared.has(to.moduleId)) };
}

/** Lets a macro move a number of an effect of a group or of the patch. */
export function addSharedRoute(patch: Patch, from: string, to: Route['to'], amount: number): [Patch, string] {
  const id = freeId('route', new Set(patch.routes.map((route) => route.id)));
  return [{ ...patch, routes: [...patch.routes, routeSchema.parse({ id, from, to, amount })] }, id];
}

/** What is wrong with a route into the chains of groups and patch, or undefined. */
export function faultOfSharedRoute(
  patch: Pick<Patch, 'macros' | 'groups' | 'effects'>,
  { id, from, to }: Route,
): string | undefined {
  if (!patch.macros.some((macro) => macro.id === from))
    return `Route "${id}" of the patch comes from "${from}", which is no macro.`;
  const effect = sharedEffects(patch).find((other) => other.id === to.moduleId);
  if (!effect)
    return `Route "${id}" of the patch goes to "${to.moduleId}", which is no effect of a group or the patch.`;
  if (!parameterOf(effect.kind, to.parameter)?.routing)
    return `Route "${id}" of the patch goes to "${to.parameter}", which is nothing that moves in a ${effect.kind}.`;
  return undefined;
}
