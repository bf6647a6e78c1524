import { formatValue } from '../parameters/format';
import { lfoShapeTitles } from '../parameters/shapes';
import { parameterOf } from '../parameters/table';
import { effectTitles } from './effects';
import { modulesOf } from './modules';
import type { Effect, Filter, Interaction, Layer, Modulator, Patch, Route, Source } from './schema';

/** What things of a patch are called, on screens and in recipes. Terms of the trade, in sentence case. */

const shapeTitles = { sine: 'Sine', triangle: 'Triangle', saw: 'Saw', pulse: 'Pulse' } as const;

export function sourceTitle(source: Source, patch?: Patch): string {
  switch (source.kind) {
    case 'shape':
      return shapeTitles[source.shape];
    case 'wavetable':
      return patch?.wavetables.find(({ id }) => id === source.wavetableId)?.name ?? 'Wavetable';
    case 'partials':
      return 'Partials';
    case 'noise':
      return 'Noise';
    case 'sample':
      return patch?.samples.find(({ id }) => id === source.sampleId)?.name ?? 'Sample';
  }
}

export const sourceKindTitles = {
  shape: 'Shape',
  wavetable: 'Wavetable',
  partials: 'Partials',
  noise: 'Noise',
  sample: 'Sample',
} as const satisfies Record<Source['kind'], string>;

export const phaseShapeTitles = {
  none: 'as it is',
  crowded: 'one half crowded',
  leaning: 'leaning',
  hardSync: 'hard sync',
  hardSyncFaded: 'hard sync, faded',
  thereAndBack: 'there and back',
  stairs: 'stairs',
  drawnTime: 'drawn time',
} as const satisfies Record<Extract<Source, { kind: 'shape' }>['phaseShape'], string>;

export const destinationTitles = {
  first: 'first filter',
  second: 'second filter',
  both: 'both filters',
  past: 'past the filters',
} as const satisfies Record<Source['into'], string>;

export const tuningTitles = {
  note: 'steps from the note',
  ratio: 'ratio to the note',
  fixed: 'fixed, no key tracking',
} as const;

export function interactionTitle(interaction: Interaction, layer: Layer): string {
  const nameOf = (id: string) => {
    const index = layer.sources.findIndex((source) => source.id === id);
    return index < 0 ? id : sourceTitle(layer.sources[index]).toLowerCase();
  };
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
  phaser: 'All-pass phaser',
  formant: 'Vowel',
} as const satisfies Record<Filter['kind'], string>;

/** With the slope, where the kind has one. */
export function filterTitle(filter: Filter): string {
  const title = filterTitles[filter.kind];
  if (filter.kind === 'ladder') return `${title}, 24 dB per octave`;
  return 'slopeDbPerOctave' in filter ? `${title}, ${filter.slopeDbPerOctave} dB per octave` : title;
}

export const noteValueTitles = {
  velocity: 'Velocity',
  key: 'Key',
  random: 'Random per note',
  unison: 'Place among unison voices',
  counter: 'Note counter',
  releaseVelocity: 'Release velocity',
  wheel: 'Wheel',
  pressure: 'Pressure',
  bend: 'Bend',
} as const;

export function modulatorKindTitle(modulator: Modulator): string {
  switch (modulator.kind) {
    case 'envelope':
      return modulator.loop ? 'looped envelope' : 'envelope';
    case 'contour':
      return `line of ${modulator.points.length} points`;
    case 'lfo':
      return `LFO, ${lfoShapeTitles[modulator.shape]}`;
    case 'note':
      return noteValueTitles[modulator.of].toLowerCase();
  }
}

/** A module of a layer by its id: `Saw`, `Low-pass`, `LFO 1`. */
export function moduleTitle(layer: Layer, moduleId: string, patch?: Patch): string {
  const source = layer.sources.find(({ id }) => id === moduleId);
  if (source) return sourceTitle(source, patch);
  const interaction = layer.interactions.find(({ id }) => id === moduleId);
  if (interaction) return interactionTitle(interaction, layer);
  const filter = layer.filters.find(({ id }) => id === moduleId);
  if (filter) return filterTitles[filter.kind];
  const effect = layer.effects.find(({ id }) => id === moduleId);
  if (effect) return effectTitles[effect.kind];
  if (layer.shaper.id === moduleId) return 'Shaper';
  if (layer.amp.id === moduleId) return 'Amp contour';
  const route = layer.routes.find(({ id }) => id === moduleId);
  if (route) return `route to ${targetTitle(layer, route, patch)}`;
  return layer.modulators.find(({ id }) => id === moduleId)?.name ?? 'Layer';
}

/** Where a route goes: `Saw, semitones`. */
export function targetTitle(layer: Layer, { to }: Pick<Route, 'to'>, patch?: Patch): string {
  const other = layer.routes.find(({ id }) => id === to.moduleId);
  if (other) return `amount of ${targetTitle(layer, other, patch)}`;
  const module = modulesOf(layer).find(({ id }) => id === to.moduleId);
  const label = module ? parameterOf(module.kind, to.parameter)?.label : undefined;
  return `${moduleTitle(layer, to.moduleId, patch)}, ${(label ?? to.parameter).toLowerCase()}`;
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
