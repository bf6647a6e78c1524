import { formatParameter, formatValue } from '../../parameters/format';
import { type ModuleKind, parameterOf, parametersOf } from '../../parameters/table';
import { modulesOf, targetOf } from '../modules';
import type { PackedPatch } from '../contents/packing';
import type { Effect, Layer, Patch, Route } from '../schema';
import { chainTitles, layerTitles, targetTitle } from './words';

/** Fields that are told by other words than that they changed. */
const TOLD: ReadonlySet<string> = new Set(['id', 'name', 'on', 'kind']);

/**
 * What changed from one state of a patch to the next, a phrase each, the weightiest first: what came and
 * went, then what was switched and set.
 */
export function changeWords(before: PackedPatch | Patch, after: PackedPatch | Patch): string[] {
  // Titles are made of names, which a packed patch has as well.
  const [old, now] = [before, after] as unknown as [Patch, Patch];
  const words: Words = { coming: [], going: [], set: [] };
  if (old.name !== now.name) words.set.push(`the patch is called “${now.name}”`);
  if (old.bpm !== now.bpm) words.set.push(moved('tempo', formatValue(old.bpm, 'BPM'), formatValue(now.bpm, 'BPM')));
  comeAndGo(words, named(old.layers), named(now.layers));
  comeAndGo(words, named(old.groups), named(now.groups));
  comeAndGo(words, named(old.macros), named(now.macros));
  for (const layer of now.layers) {
    const earlier = old.layers.find(({ id }) => id === layer.id);
    if (earlier) changesOfLayer(words, old, now, earlier, layer);
  }
  for (const macro of now.macros) {
    const earlier = old.macros.find(({ id }) => id === macro.id);
    if (earlier) numbersOf(words, macro.name, 'macro', earlier, macro);
  }
  changesOfModules(words, sharedModules(old), sharedModules(now));
  orderOf(words, 'layers', old.layers, now.layers);
  return [...words.coming, ...words.going, ...words.set];
}

interface Words {
  coming: string[];
  going: string[];
  set: string[];
}

/** A part of a patch with its title. */
interface Named {
  id: string;
  title: string;
}

interface NamedModule extends Named {
  kind: ModuleKind;
  module: object;
}

const named = (list: readonly { id: string; name: string }[]): Named[] =>
  list.map(({ id, name }) => ({ id, title: name }));

const moved = (what: string, from: string, to: string) => `${what} ${from} → ${to}`;

function comeAndGo(words: Words, before: readonly Named[], after: readonly Named[]): void {
  for (const { id, title } of after) if (!before.some((one) => one.id === id)) words.coming.push(`${title} added`);
  for (const { id, title } of before) if (!after.some((one) => one.id === id)) words.going.push(`${title} removed`);
}

function changesOfLayer(words: Words, old: Patch, now: Patch, before: Layer, after: Layer): void {
  const inLayer = now.layers.length > 1 ? `${after.name}: ` : '';
  const own: Words = { coming: [], going: [], set: [] };
  if (before.name !== after.name) own.set.push(`${before.name} is called ${after.name}`);
  if (before.on !== after.on) own.set.push(`${after.name} ${after.on ? 'on' : 'off'}`);
  changesOfModules(own, layerModules(before, old), layerModules(after, now));
  numbersOf(own, 'notes', 'voice', before.voice, after.voice);
  if (before.voice.mode !== after.voice.mode) own.set.push(`notes play ${after.voice.mode}`);
  else if (before.voice.glide !== after.voice.glide) own.set.push(`notes glide ${after.voice.glide}`);
  changesOfRoutes(own, old, now, before, after);
  orderOf(own, 'sources', before.sources, after.sources);
  orderOf(own, 'chain', before.effects, after.effects);
  for (const part of ['coming', 'going', 'set'] as const) words[part].push(...own[part].map((text) => inLayer + text));
}

function layerModules(layer: Layer, patch: Patch): NamedModule[] {
  const titles = layerTitles(layer, patch);
  return modulesOf(layer).map(({ id, kind, values }) => ({ id, kind, module: values, title: titles.get(id) ?? id }));
}

function sharedModules({ groups, effects }: Patch): NamedModule[] {
  const inChain = (chain: readonly Effect[]) => {
    const titles = chainTitles(chain);
    return chain.map((effect) => ({ id: effect.id, kind: effect.kind, module: effect, title: titles.get(effect.id)! }));
  };
  return [...groups.flatMap((group) => inChain(group.effects)), ...inChain(effects)];
}

function changesOfModules(words: Words, before: readonly NamedModule[], after: readonly NamedModule[]): void {
  comeAndGo(words, before, after);
  for (const { id, kind, module, title } of after) {
    const earlier = before.find((one) => one.id === id);
    if (!earlier) continue;
    const [old, now] = [earlier.module, module] as [Record<string, unknown>, Record<string, unknown>];
    if (earlier.kind !== kind || (earlier.title !== title && old.name === now.name)) {
      words.set.push(`${earlier.title} becomes ${title}`);
    } else if (earlier.title !== title) words.set.push(`${earlier.title} is called ${title}`);
    if (old.on !== now.on) words.set.push(`${title} ${now.on ? 'on' : 'off'}`);
    if (earlier.kind !== kind) continue;
    numbersOf(words, title, kind, old, now);
    // A layer's fields are told part by part.
    if (kind !== 'layer' && earlier.title === title && otherFieldsDiffer(kind, old, now)) {
      words.set.push(`${title} set otherwise`);
    }
  }
}

function numbersOf(words: Words, title: string, kind: ModuleKind, before: object, after: object): void {
  const [old, now] = [before, after] as [Record<string, number>, Record<string, number>];
  for (const [name, parameter] of Object.entries(parametersOf(kind))) {
    if (old[name] === now[name]) continue;
    const [from, to] = [old[name], now[name]].map((value) => formatParameter(parameter, value));
    words.set.push(moved(`${title}, ${parameter.label.toLowerCase()}`, from, to));
  }
}

/** Whether anything differs that is no number of the table: choices, drawn lines, what is played. */
function otherFieldsDiffer(kind: ModuleKind, before: Record<string, unknown>, after: Record<string, unknown>): boolean {
  return Object.keys(after).some(
    (name) =>
      !TOLD.has(name) &&
      parameterOf(kind, name) === undefined &&
      JSON.stringify(before[name]) !== JSON.stringify(after[name]),
  );
}

function changesOfRoutes(words: Words, old: Patch, now: Patch, before: Layer, after: Layer): void {
  const titleOf = (patch: Patch, layer: Layer, route: Route) => {
    const from = layerTitles(layer, patch).get(route.from) ?? route.from;
    return `${from} to ${targetTitle(layer, route, patch)}`;
  };
  comeAndGo(
    words,
    before.routes.map((route) => ({ id: route.id, title: titleOf(old, before, route) })),
    after.routes.map((route) => ({ id: route.id, title: titleOf(now, after, route) })),
  );
  for (const route of after.routes) {
    const earlier = before.routes.find(({ id }) => id === route.id);
    if (!earlier) continue;
    const title = titleOf(now, after, route);
    const target = targetOf(after, route.to);
    const unit = typeof target === 'string' ? '' : target.parameter.routing!.unit;
    if (earlier.on !== route.on) words.set.push(`${title} ${route.on ? 'on' : 'off'}`);
    if (earlier.polarity !== route.polarity) words.set.push(`${title} ${route.polarity}`);
    if (earlier.amount !== route.amount) {
      words.set.push(moved(title, formatValue(earlier.amount, unit), formatValue(route.amount, unit)));
    }
  }
}

function orderOf(
  words: Words,
  what: string,
  before: readonly { id: string }[],
  after: readonly { id: string }[],
): void {
  const both = (list: readonly { id: string }[], others: readonly { id: string }[]) =>
    list.map(({ id }) => id).filter((id) => others.some((other) => other.id === id));
  if (both(before, after).join() !== both(after, before).join()) words.set.push(`order of the ${what} changed`);
}

const TOLD_AT_MOST = 3;

/** The same in a line, of which the rest is counted; undefined when nothing changed. */
export function changeSummary(before: PackedPatch, after: PackedPatch): string | undefined {
  const words = changeWords(before, after);
  if (words.length === 0) return undefined;
  const told = words.slice(0, words.length > TOLD_AT_MOST ? TOLD_AT_MOST - 1 : TOLD_AT_MOST);
  const left = words.length - told.length;
  const line = [...told, ...(left > 0 ? [`${left} more`] : [])].join('; ');
  return line[0].toUpperCase() + line.slice(1);
}
