import { formatValue } from '../../parameters/format';
import { SILENT_DB } from '../../parameters/build';
import type { TraitGroup } from '../../parameters/parameter';
import { parameterOf } from '../../parameters/table';
import { effectTitles } from './effects';
import { LAYER_MODULE, modulesOf } from '../modules';
import type { Effect, Filter, Interaction, Layer, Patch, Route } from '../schema';
import { plainSourceTitle } from './sources';

/**
 * What things of a patch are called, on screens and in recipes: by their own names, else in terms of the
 * trade. Twins are numbered.
 */

/** Slower attacks are heard to rise. */
const SUDDEN_SECONDS = 0.03;

export const filterTitles = {
  lowpass: 'Low-pass',
  highpass: 'High-pass',
  bandpass: 'Band-pass',
  ladder: 'Ladder low-pass',
  notch: 'Notch',
  peak: 'Peak',
  lowShelf: 'Low shelf',
  highShelf: 'High shelf',
  lowpassNotch: 'Low-pass and notch',
  highpassNotch: 'High-pass and notch',
  comb: 'Comb',
  allPass: 'All-pass notches',
  formant: 'Vowel',
} as const satisfies Record<Filter['kind'], string>;

/** What is to be heard once a filter is on. */
export const filterHeard = {
  lowpass: 'darker: what lies above the cutoff thins out',
  highpass: 'leaner: what lies below the cutoff thins out',
  bandpass: 'only a range around its frequency, as through a telephone',
  ladder: 'darker, and a whistle at the cutoff the more is fed back',
  notch: 'hollow where a slice is missing',
  peak: 'some of the range stands out',
  lowShelf: 'more or less of the bottom',
  highShelf: 'more or less of the top',
  lowpassNotch: 'darker, and hollow where a slice is missing',
  highpassNotch: 'leaner, and hollow where a slice is missing',
  comb: 'a ringing, as through a pipe',
  allPass: 'hollow notches in the tone',
  formant: 'the tone sings a vowel',
} as const satisfies Record<Filter['kind'], string>;

/** With the slope, where the kind has one. */
export function filterTitle(filter: Filter, title: string = filterTitles[filter.kind]): string {
  if (filter.kind === 'ladder') return `${title}, 24 dB per octave`;
  return 'slopeDbPerOctave' in filter ? `${title}, ${filter.slopeDbPerOctave} dB per octave` : title;
}

type Titled = readonly [id: string, title: string];

/** Titles by id, with a number behind those that several have. */
function numbered(titles: readonly Titled[]): ReadonlyMap<string, string> {
  const counts = new Map<string, number>();
  for (const [, title] of titles) counts.set(title, (counts.get(title) ?? 0) + 1);
  const given = new Map<string, number>();
  return new Map(
    titles.map(([id, title]) => {
      if (counts.get(title) === 1) return [id, title];
      const number = (given.get(title) ?? 0) + 1;
      given.set(title, number);
      return [id, `${title} ${number}`];
    }),
  );
}

const effectName = ({ id, name, kind }: Effect): Titled => [id, name ?? effectTitles[kind]];

/** Titles of the effects of a chain, by id. */
export const chainTitles = (effects: readonly Effect[]): ReadonlyMap<string, string> =>
  numbered(effects.map(effectName));

/** Titles of what a layer is made of, by id: `Saw 1`, `Low-pass`, `LFO 1`. */
export function layerTitles(layer: Layer, patch?: Patch): ReadonlyMap<string, string> {
  const titles = numbered([
    ...layer.sources.map((source): Titled => [source.id, source.name ?? plainSourceTitle(source, patch)]),
    ...layer.filters.map(({ id, name, kind }): Titled => [id, name ?? filterTitles[kind]]),
    [layer.shaper.id, 'Shaper'],
    [layer.amp.id, 'Amp contour'],
    ...layer.effects.map(effectName),
    ...layer.modulators.map(({ id, name }): Titled => [id, name]),
    ...(patch?.macros.map(({ id, name }): Titled => [id, name]) ?? []),
    [LAYER_MODULE, 'Layer'],
  ]);
  const interactions = layer.interactions.map((interaction): Titled => {
    return [interaction.id, interactionTitle(interaction, titles)];
  });
  return new Map([...titles, ...interactions]);
}

function interactionTitle(interaction: Interaction, titles: ReadonlyMap<string, string>): string {
  const nameOf = (id: string) => (titles.get(id) ?? id).toLowerCase();
  const to = nameOf(interaction.to);
  switch (interaction.kind) {
    case 'fm':
      return interaction.from === interaction.to ? `FM feedback, ${to}` : `FM, ${nameOf(interaction.from)} into ${to}`;
    case 'ring':
      return `Ring, ${nameOf(interaction.from)} with ${to}`;
    case 'ringTone':
      return `Ring tone with ${to}`;
  }
}

/** A module of a layer, a route or a macro by its id. */
export function moduleTitle(layer: Layer, moduleId: string, patch?: Patch): string {
  const route = layer.routes.find(({ id }) => id === moduleId);
  if (route) return `route to ${targetTitle(layer, route, patch)}`;
  return layerTitles(layer, patch).get(moduleId) ?? moduleId;
}

/** Where a route goes: `Saw, semitones`. */
export function targetTitle(layer: Layer, { to }: Pick<Route, 'to'>, patch?: Patch): string {
  const other = layer.routes.find(({ id }) => id === to.moduleId);
  if (other) return `amount of ${targetTitle(layer, other, patch)}`;
  const module = modulesOf(layer).find(({ id }) => id === to.moduleId);
  const label = module ? parameterOf(module.kind, to.parameter)?.label : undefined;
  return `${moduleTitle(layer, to.moduleId, patch)}, ${(label ?? to.parameter).toLowerCase()}`;
}

const interactionHeard = {
  fm: 'overtones come in, clangorous where the ratio is not a whole one',
  ring: 'metallic, with tones above and below those that were there',
  ringTone: 'metallic, with tones above and below those that were there',
} as const satisfies Record<Interaction['kind'], string>;

/** What is to be heard once one source moves another. */
export const heardOfInteraction = ({ kind }: Interaction): string => interactionHeard[kind];

const traitNouns = {
  pitch: 'the pitch',
  loudness: 'the level',
  brightness: 'the brightness',
  partials: 'the colour',
  noise: 'the noise',
  unison: 'the beating',
  width: 'the width',
  motion: 'the movement',
  space: 'the room',
  dirt: 'the dirt',
} as const satisfies Record<TraitGroup, string>;

/** What a route changes for the ear. */
export function heardOfTarget(layer: Layer, { to }: Pick<Route, 'to'>): string {
  const module = modulesOf(layer).find(({ id }) => id === to.moduleId);
  const parameter = module && parameterOf(module.kind, to.parameter);
  return parameter ? traitNouns[parameter.moves[0]] : 'the movement';
}

/** What is to be heard of a level over time. */
export function heardOfAmp({ attackSeconds, sustainDb }: Layer['amp']): string {
  const start = attackSeconds < SUDDEN_SECONDS ? 'starts at once' : 'swells';
  const goesOn = sustainDb <= SILENT_DB + 1 ? 'dies away' : sustainDb < -1 ? 'settles lower' : 'stays';
  return `the note ${start} and ${goesOn}, as the reference does`;
}

/** How a route counts, in words: where its amount is reached. */
export function polarityWords(polarity: Route['polarity'], amount: string): string {
  return polarity === 'bipolar' ? `bipolar: ${amount} either way` : `unipolar: from 0 to ${amount}`;
}

/** What a macro does to an effect of several layers: `Storm moves wet, unipolar: from 0 to 40 %`. */
export function sharedRouteText(patch: Patch, effect: Effect, { from, to, amount, polarity }: Route): string {
  const parameter = parameterOf(effect.kind, to.parameter);
  const name = patch.macros.find(({ id }) => id === from)?.name ?? from;
  const by = formatValue(amount, parameter?.routing?.unit ?? '');
  return `${name} moves ${(parameter?.label ?? to.parameter).toLowerCase()}, ${polarityWords(polarity, by)}`;
}
