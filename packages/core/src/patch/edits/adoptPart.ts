import { freeId, dropUnused } from './edit';
import { modulesOf } from '../modules';
import type { Layer, Patch, Route } from '../schema';

/** What of another patch can be taken over by itself. */
export const patchParts = ['sources', 'filter', 'movement', 'effects'] as const;
export type PatchPart = (typeof patchParts)[number];

/**
 * A layer with one part of another patch's first layer in place of its own. A route belongs to the part of
 * what it moves and takes its modulator along, so that a filter comes with its fall and a source with its
 * vibrato; `movement` is what moves level and pitch: the amp contour, how notes are played and their routes.
 *
 * @returns a changed copy; ids that are taken are given anew, and what nothing plays any more is gone
 */
export function adoptPart(patch: Patch, layerId: string, other: Patch, part: PatchPart): Patch {
  const own = patch.layers.find(({ id }) => id === layerId);
  if (!own) throw new Error(`There is no layer "${layerId}".`);
  const rest = withoutPart(own, part);
  const taken = onlyPart(other.layers[0], part);
  const tables = takeSounds(patch, other, taken);
  const { sources, interactions, effects, modulators, routes } = withFreeIds(tables.layer, rest);
  const layer: Layer = {
    ...rest,
    ...(part === 'filter' && { filters: taken.filters, filterOrder: taken.filterOrder, shaper: taken.shaper }),
    ...(part === 'movement' && { amp: taken.amp, voice: taken.voice }),
    sources: [...rest.sources, ...sources],
    interactions: [...rest.interactions, ...interactions],
    effects: [...rest.effects, ...effects],
    modulators: [...rest.modulators, ...modulators],
    routes: [...rest.routes, ...routes],
  };
  const layers = patch.layers.map((one) => (one.id === layerId ? layer : one));
  return dropUnused({ ...patch, layers, wavetables: tables.wavetables, samples: tables.samples });
}

/** Routes of a part: those to its modules, and those that move these routes or their modulators. */
function routesOf(layer: Layer, part: PatchPart): Route[] {
  const has = (list: readonly { id: string }[], id: string) => list.some((one) => one.id === id);
  const partOf = (id: string): PatchPart | undefined => {
    if (has([...layer.sources, ...layer.interactions], id)) return 'sources';
    if (has([...layer.filters, layer.shaper], id)) return 'filter';
    if (has(layer.effects, id)) return 'effects';
    return has(layer.modulators, id) || has(layer.routes, id) ? undefined : 'movement';
  };
  const found = layer.routes.filter(({ to }) => partOf(to.moduleId) === part);
  for (let before = -1; before !== found.length;) {
    before = found.length;
    for (const route of layer.routes) {
      const reaches = found.some(({ id, from }) => id === route.to.moduleId || from === route.to.moduleId);
      if (reaches && !found.includes(route)) found.push(route);
    }
  }
  return layer.routes.filter((route) => found.includes(route));
}

/** Modulators that a part's routes come from and no others. */
const movedOnlyBy = (layer: Layer, routes: readonly Route[]) =>
  layer.modulators.filter(
    ({ id }) =>
      routes.some(({ from }) => from === id) &&
      !layer.routes.some((route) => route.from === id && !routes.includes(route)),
  );

function withoutPart(layer: Layer, part: PatchPart): Layer {
  const going = routesOf(layer, part);
  const modulators = movedOnlyBy(layer, going);
  return {
    ...layer,
    ...(part === 'sources' && { sources: [], interactions: [] }),
    ...(part === 'effects' && { effects: [] }),
    modulators: layer.modulators.filter((modulator) => !modulators.includes(modulator)),
    routes: layer.routes.filter((route) => !going.includes(route)),
  };
}

function onlyPart(layer: Layer, part: PatchPart): Layer {
  const routes = routesOf(layer, part);
  return {
    ...layer,
    ...(part !== 'sources' && { sources: [], interactions: [] }),
    ...(part !== 'effects' && { effects: [] }),
    modulators: layer.modulators.filter(({ id }) => routes.some(({ from }) => from === id)),
    routes,
  };
}

/** Tables and samples of both patches, and the layer as it plays them under ids that are free. */
function takeSounds(patch: Patch, other: Patch, layer: Layer) {
  const join = <T extends { id: string }>(own: readonly T[], theirs: readonly T[], prefix: string) => {
    const all = [...own];
    const newIds = new Map<string, string>();
    for (const sound of theirs) {
      const isTaken = all.some(({ id }) => id === sound.id);
      const id = isTaken ? freeId(prefix, new Set(all.map((one) => one.id))) : sound.id;
      newIds.set(sound.id, id);
      all.push({ ...sound, id });
    }
    return { all, newIds };
  };
  const tables = join(patch.wavetables, other.wavetables, 'table');
  const samples = join(patch.samples, other.samples, 'sample');
  const layers = new Set(patch.layers.map(({ id }) => id));
  const play = <T extends object>(player: T): T => ({
    ...player,
    ...('wavetableId' in player && { wavetableId: tables.newIds.get(player.wavetableId as string) }),
    ...('sampleId' in player && { sampleId: samples.newIds.get(player.sampleId as string) }),
    ...('keyLayerId' in player && !layers.has(player.keyLayerId as string) && { keyLayerId: null }),
  });
  return {
    layer: { ...layer, sources: layer.sources.map(play), effects: layer.effects.map(play) },
    wavetables: tables.all,
    samples: samples.all,
  };
}

/** What comes into a layer, under ids that nothing there has. */
function withFreeIds(
  layer: Layer,
  rest: Layer,
): Pick<Layer, 'sources' | 'interactions' | 'effects' | 'modulators' | 'routes'> {
  const taken = new Set([...modulesOf(rest), ...rest.routes].map(({ id }) => id));
  const newIds = new Map<string, string>();
  const named = <T extends { id: string }>(list: readonly T[], prefix: string): T[] =>
    list.map((one) => {
      const id = taken.has(one.id) ? freeId(prefix, taken) : one.id;
      taken.add(id);
      newIds.set(one.id, id);
      return { ...one, id };
    });
  const nowOf = (id: string) => newIds.get(id) ?? id;
  const sources = named(layer.sources, 'source');
  const interactions = named(layer.interactions, 'link').map((one) => ({
    ...one,
    to: nowOf(one.to),
    ...('from' in one && { from: nowOf(one.from) }),
  }));
  const effects = named(layer.effects, 'effect');
  const modulators = named(layer.modulators, 'modulator');
  const routes = named(layer.routes, 'route').map((route) => ({
    ...route,
    from: nowOf(route.from),
    to: { ...route.to, moduleId: nowOf(route.to.moduleId) },
  }));
  return { sources, interactions, effects, modulators, routes };
}
