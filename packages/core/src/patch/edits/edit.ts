import { parameterOf } from '../../parameters/table';
import { defaultEnvelope, emptyLayer } from '../defaults';
import { modulesOf } from '../modules';
import { fittingName } from '../names';
import { lfoSchema, modulatorSchema, noteValueSchema, routeSchema } from '../schemas/modulatorSchema';
import type {
  Sample,
  Effect,
  Filter,
  FilterKind,
  Interaction,
  Layer,
  Modulator,
  NoteValue,
  Patch,
  Route,
  Source,
  SourceKind,
} from '../schema';
import { filterSchema } from '../schemas/shapingSchema';
import { interactionSchema, sourceSchema } from '../schemas/sourceSchema';
import { goesBothWays, noteValueTitles } from '../words/modulators';

/**
 * Edits of a patch: each takes a document and returns a changed copy; nothing refers to what is gone
 * afterwards.
 */

const idsOf = (layer: Layer) => new Set([...modulesOf(layer), ...layer.routes].map(({ id }) => id));

/** The first of `prefix-1`, `prefix-2` … that is free. */
export function freeId(prefix: string, taken: ReadonlySet<string>): string {
  let number = 1;
  while (taken.has(`${prefix}-${number}`)) number++;
  return `${prefix}-${number}`;
}

/** Level of a source that joins others, so that adding one does not clip. */
const ADDED_SOURCE_DB = -12;

/** @param fields what the kind needs, such as the wavetable's id */
export function addSource(layer: Layer, kind: SourceKind, fields: Record<string, unknown> = {}): [Layer, string] {
  const id = freeId('source', idsOf(layer));
  const source = sourceSchema.parse({ levelDb: layer.sources.length > 0 ? ADDED_SOURCE_DB : 0, ...fields, kind, id });
  return [{ ...layer, sources: [...layer.sources, source] }, id];
}

export function duplicateSource(layer: Layer, sourceId: string): [Layer, string] {
  const index = layer.sources.findIndex(({ id }) => id === sourceId);
  const id = freeId('source', idsOf(layer));
  return [{ ...layer, sources: layer.sources.toSpliced(index + 1, 0, { ...layer.sources[index], id }) }, id];
}

/** Moves the element at one place of a list to another. */
export function moved<T>(list: readonly T[], from: number, to: number): T[] {
  const rest = list.toSpliced(from, 1);
  return rest.toSpliced(to, 0, list[from]);
}

/** Takes a source, an interaction, a modulator or a route out of a layer, with all that belongs to it. */
export function removeFromLayer(layer: Layer, removedId: string): Layer {
  const stays = ({ id }: { id: string }) => id !== removedId;
  const interactions = layer.interactions.filter(
    (other) => stays(other) && other.to !== removedId && !('from' in other && other.from === removedId),
  );
  const sources = layer.sources.filter(stays);
  const modulators = layer.modulators.filter(stays);
  const effects = layer.effects.filter(stays);
  const left = { ...layer, sources, interactions, modulators, effects, routes: [] };
  const modules = new Set(modulesOf(left).map(({ id }) => id));
  let routes = layer.routes.filter((route) => stays(route) && route.from !== removedId);
  // A route into another route goes with it.
  const reaches = ({ to }: Route) => modules.has(to.moduleId) || routes.some(({ id }) => id === to.moduleId);
  for (let before = -1; before !== routes.length;) {
    before = routes.length;
    routes = routes.filter(reaches);
  }
  return { ...left, routes };
}

/**
 * The same filter place with another kind in it; numbers that both kinds have are kept, routes to others go.
 */
export function changeFilterKind(layer: Layer, filterId: string, kind: FilterKind): Layer {
  const change = (filter: Filter): Filter => {
    if (filter.id !== filterId) return filter;
    const { slopeDbPerOctave, ...others } = filter as Filter & { slopeDbPerOctave?: number };
    // A band-pass has 12 and 24 dB only.
    const slope = kind === 'bandpass' && slopeDbPerOctave !== 24 ? 12 : slopeDbPerOctave;
    return filterSchema.parse({
      ...others,
      ...(slope === undefined ? {} : { slopeDbPerOctave: slope }),
      kind,
      on: true,
    });
  };
  const filters: Layer['filters'] = [change(layer.filters[0]), change(layer.filters[1])];
  const routes = layer.routes.filter(({ to }) => to.moduleId !== filterId || parameterOf(kind, to.parameter)?.routing);
  return { ...layer, filters, routes };
}

export function addInteraction(
  layer: Layer,
  kind: Interaction['kind'],
  to: string,
  from: string | undefined,
): [Layer, string] {
  const id = freeId(kind === 'fm' ? 'fm' : 'ring', idsOf(layer));
  return [{ ...layer, interactions: [...layer.interactions, interactionSchema.parse({ kind, id, to, from })] }, id];
}

export type NewModulator = 'envelope' | 'lfo' | NoteValue['of'];

export function addModulator(layer: Layer, what: NewModulator): [Layer, string] {
  const prefix = what === 'envelope' || what === 'lfo' ? what : 'value';
  const id = freeId(prefix, idsOf(layer));
  const number = layer.modulators.filter(({ kind }) => kind === what).length + 1;
  const modulator: Modulator =
    what === 'envelope'
      ? defaultEnvelope(id, `Envelope ${number}`)
      : what === 'lfo'
        ? lfoSchema.parse({ kind: 'lfo', id, name: `LFO ${number}` })
        : noteValueSchema.parse({ kind: 'note', id, name: noteValueTitles[what], of: what });
  return [{ ...layer, modulators: [...layer.modulators, modulator] }, id];
}

/** A copy of a modulator, with its routes when it stays in its layer. */
export function pasteModulator(layer: Layer, modulator: Modulator): [Layer, string] {
  const id = freeId(modulator.kind, idsOf(layer));
  return [{ ...layer, modulators: [...layer.modulators, modulatorSchema.parse({ ...modulator, id })] }, id];
}

export function addRoute(layer: Layer, from: string, to: Route['to'], amount: number): [Layer, string] {
  const id = freeId('route', idsOf(layer));
  const origin = layer.modulators.find((modulator) => modulator.id === from);
  const polarity = origin && goesBothWays(origin) ? 'bipolar' : 'unipolar';
  return [{ ...layer, routes: [...layer.routes, routeSchema.parse({ id, from, to, amount, polarity })] }, id];
}

/** Sets fields of whatever has an id in a layer: a source, a filter, a modulator, a route. */
export function setFields(layer: Layer, id: string, fields: Record<string, unknown>): Layer {
  const changed = <T extends { id: string }>(module: T): T => (module.id === id ? { ...module, ...fields } : module);
  return {
    ...layer,
    sources: layer.sources.map(changed),
    interactions: layer.interactions.map(changed),
    filters: [changed(layer.filters[0]), changed(layer.filters[1])],
    shaper: changed(layer.shaper),
    amp: changed(layer.amp),
    effects: layer.effects.map(changed),
    modulators: layer.modulators.map(changed),
    routes: layer.routes.map(changed),
  };
}

/** Adds an empty layer, or a copy of one under a name of its own. */
export function addLayer(patch: Patch, copied?: Layer): [Patch, string] {
  const id = freeId('layer', new Set(patch.layers.map((layer) => layer.id)));
  const name = `Layer ${patch.layers.length + 1}`;
  const layer = copied ? { ...copied, id, name: fittingName(`${copied.name}, copy`, name) } : emptyLayer(id, name);
  return [{ ...patch, layers: [...patch.layers, layer] }, id];
}

/**
 * Takes a layer out, and the tables and samples that only it played; effects no longer listen to it. The last
 * layer stays.
 */
export function removeLayer(patch: Patch, layerId: string): Patch {
  if (patch.layers.length === 1) return patch;
  const deaf = (effect: Effect): Effect =>
    'keyLayerId' in effect && effect.keyLayerId === layerId ? { ...effect, keyLayerId: null } : effect;
  return dropUnused({
    ...patch,
    groups: patch.groups
      .filter(({ id }) => patch.layers.some((layer) => layer.id !== layerId && layer.groupId === id))
      .map((group) => ({ ...group, effects: group.effects.map(deaf) })),
    layers: patch.layers
      .filter(({ id }) => id !== layerId)
      .map((layer) => ({ ...layer, effects: layer.effects.map(deaf) })),
    effects: patch.effects.map(deaf),
  });
}

/**
 * Puts a sample into the patch and says under which id; one that sounds the same is taken if there is any.
 */
export function addSample(patch: Patch, sample: Omit<Sample, 'id'>): [Patch, string] {
  const known = patch.samples.find(
    ({ pcmBase64, sampleRateHz, channels }) =>
      pcmBase64 === sample.pcmBase64 && sampleRateHz === sample.sampleRateHz && channels === sample.channels,
  );
  if (known) return [patch, known.id];
  const id = freeId('sample', new Set(patch.samples.map((other) => other.id)));
  return [{ ...patch, samples: [...patch.samples, { ...sample, id }] }, id];
}

/** The patch without tables and samples that nothing plays; the same where there are none. */
export function dropUnused(patch: Patch): Patch {
  const players: (Source | Effect)[] = [
    ...patch.layers.flatMap(({ sources, effects }) => [...sources, ...effects]),
    ...patch.groups.flatMap((group) => group.effects),
    ...patch.effects,
  ];
  const plays = (key: 'wavetableId' | 'sampleId', id: string) =>
    players.some((player) => key in player && (player as unknown as Record<string, string>)[key] === id);
  const wavetables = patch.wavetables.filter(({ id }) => plays('wavetableId', id));
  const samples = patch.samples.filter(({ id }) => plays('sampleId', id));
  const all = wavetables.length === patch.wavetables.length && samples.length === patch.samples.length;
  return all ? patch : { ...patch, wavetables, samples };
}
