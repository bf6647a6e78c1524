import { noteName } from '../dsp/pitch';
import type { PhraseNote } from '../engine/render';
import { formatParameter, formatValue } from '../parameters/format';
import { type ModuleKind, parametersOf } from '../parameters/table';
import { shaperTitles } from '../parameters/shapes';
import { effectWords, heardOfEffect } from '../patch/words/effects';
import { targetOf } from '../patch/modules';
import { stageEnds } from '../patch/envelopeCurve';
import { filterNotes } from '../patch/words/filterNotes';
import type { Effect, Envelope, Filter, Layer, Macro, Modulator, Patch, Route, Source } from '../patch/schema';
import { heardOfModulator, modulatorWords, toldOfModulator } from '../patch/words/modulators';
import { heardOfSource, plainSourceTitle, sourceKindTitle, toldOfSource } from '../patch/words/sources';
import {
  filterHeard,
  filterTitle,
  heardOfAmp,
  heardOfInteraction,
  heardOfTarget,
  layerTitles,
  polarityWords,
  sharedRouteText,
  targetTitle,
} from '../patch/words/words';

/**
 * The patch written out as steps in real units (Markdown), each with what is to be heard once it is done, so
 * that it can be rebuilt anywhere by hand.
 */
export function writeRecipe(patch: Patch, notes: readonly PhraseNote[]): string {
  const lines = [`# ${patch.name}`, '', `Tempo ${formatValue(patch.bpm, 'BPM')}.`, ''];
  for (const layer of patch.layers.filter(({ on }) => on)) lines.push(...layerSteps(layer, patch));
  for (const { id, name, effects } of patch.groups) {
    const members = patch.layers.filter(({ groupId }) => groupId === id).map((layer) => layer.name);
    lines.push(...chainSteps(`${name}: ${members.join(', ')}`, effects, patch));
  }
  lines.push(...chainSteps('All layers', patch.effects, patch));
  if (notes.length > 0) {
    lines.push('## Play', '');
    for (const { onsetSeconds, durationSeconds, midi, velocity } of notes) {
      lines.push(
        `- ${noteName(midi)} at ${formatValue(onsetSeconds, 's')} for ${formatValue(durationSeconds, 's')}, velocity ${velocity}`,
      );
    }
    lines.push('');
  }
  return lines.join('\n');
}

/** A chain of several layers, with what macros do to it. */
function chainSteps(title: string, effects: readonly Effect[], patch: Patch): string[] {
  const heard = effects.filter(({ on }) => on);
  if (heard.length === 0) return [];
  const steps = heard.map((effect) => {
    const moves = patch.routes
      .filter(({ on, to }) => on && to.moduleId === effect.id)
      .map((route) => sharedRouteText(patch, effect, route));
    return { text: [effectWords(effect, patch), ...moves].join('; '), heard: heardOfEffect(effect) };
  });
  return [`## ${title}`, '', ...steps.flatMap(({ text, heard: told }, i) => stepLines(i + 1, text, told)), ''];
}

function layerSteps(layer: Layer, patch: Patch): string[] {
  const placed = settings('layer', { ...layer, levelDb: 0 });
  const level = `level ${formatValue(layer.levelDb, 'dB')}`;
  const lines = [`## ${[layer.name, level, ...(placed === UNCHANGED ? [] : [placed])].join(', ')}`, ''];
  const titles = layerTitles(layer, patch);
  let step = 1;
  const add = (text: string, heard = '') => lines.push(...stepLines(step++, text, heard));
  for (const source of layer.sources.filter(({ on }) => on))
    add(sourceText(source, titles.get(source.id)!, patch), heardOfSource(source));
  for (const interaction of layer.interactions.filter(({ on }) => on)) {
    add(
      `${titles.get(interaction.id)!}: ${settings(interaction.kind, interaction, 'all')}`,
      heardOfInteraction(interaction),
    );
  }
  const [first, second] = layer.filters;
  if (first.on) add(`${filterTitle(first, titles.get(first.id))}: ${filterSettings(first)}`, filterHeard[first.kind]);
  if (layer.shaper.on) {
    add(
      `Shaper, ${shaperTitles[layer.shaper.curve]}: ${settings('shaper', layer.shaper, 'all')}`,
      'rougher and fuller, the more so the louder it is played',
    );
  }
  if (second.on) {
    const where = layer.filterOrder === 'series' ? 'after it' : 'beside it';
    add(
      `${filterTitle(second, titles.get(second.id))}${first.on ? `, ${where}` : ''}: ${filterSettings(second)}`,
      filterHeard[second.kind],
    );
  }
  add(`Amp contour: ${settings('envelope', layer.amp, 'times')}`, heardOfAmp(layer.amp));
  const voice = voiceText(layer);
  if (voice) add(voice);
  for (const effect of layer.effects.filter(({ on }) => on)) add(effectWords(effect, patch), heardOfEffect(effect));
  for (const origin of [...layer.modulators, ...patch.macros]) {
    const targets = layer.routes.filter((route) => route.on && route.from === origin.id && route.amount !== 0);
    if (targets.length > 0) add(modulatorText(origin, targets, layer, patch), heardOfMoves(origin, targets, layer));
  }
  lines.push('');
  return lines;
}

/** A step, and under it what is to be heard once it is done. */
const stepLines = (step: number, text: string, heard: string): string[] => [
  `${step}. ${text}.`,
  ...(heard === '' ? [] : [`   Listen: ${heard}.`]),
];

/** What a modulator is heard to do; a macro does nothing until it is turned. */
function heardOfMoves(origin: Modulator | Macro, routes: readonly Route[], layer: Layer): string {
  if (!('kind' in origin)) return '';
  const heard = routes.map((route) => heardOfModulator(origin, heardOfTarget(layer, route), route.amount));
  return [...new Set(heard)].join('; ');
}

/** Numbers of a filter, and whether what it leaves is made as loud as what it is given. */
const filterSettings = (filter: Filter) =>
  [settings(filter.kind, filter), ...('makeUp' in filter && filter.makeUp ? ['makes up its level'] : [])].join(', ');

/** What a source is: its title, its kind unless that says it, and what it is besides numbers. */
function sourceText(source: Source, title: string, patch: Patch): string {
  const played = plainSourceTitle(source, patch);
  const kind = sourceKindTitle(source.kind);
  const what = source.name !== undefined ? `“${title}”, ${played}` : played === kind ? title : `${kind} “${title}”`;
  const heading = source.kind === 'shape' && source.name === undefined ? title : what;
  return `${heading}: ${[...toldOfSource(source), settings(source.kind, source)].join(', ')}`;
}

function voiceText({ voice }: Layer): string {
  const { mode, glide, glideBy, glideSeconds, glideInSemitones, glideInSeconds } = voice;
  const words: string[] = [];
  if (mode !== 'poly') words.push(`One voice, ${mode}`);
  if (glide !== 'never') {
    const when = glide === 'always' ? 'always' : 'only where notes overlap';
    const length = `${formatValue(glideSeconds, 's')}${glideBy === 'octave' ? ' an octave' : ''}`;
    words.push(`glide of ${length}, ${when}`);
  }
  if (glideInSemitones !== 0) {
    words.push(`notes glide in from ${formatValue(glideInSemitones, 'st')} over ${formatValue(glideInSeconds, 's')}`);
  }
  if (words.length > 0 && mode === 'poly') words.unshift('Many voices');
  return words.join(', ');
}

function modulatorText(origin: Modulator | Macro, routes: readonly Route[], layer: Layer, patch: Patch): string {
  const moves = routes.map((route) => {
    const target = targetOf(layer, route.to);
    const unit = typeof target === 'string' ? '' : target.parameter.routing!.unit;
    const words = polarityWords(route.polarity, formatValue(route.amount, unit));
    return `${targetTitle(layer, route, patch).toLowerCase()} (${words})`;
  });
  const what = 'kind' in origin ? `${modulatorWords(origin)}${modulatorSettings(origin)}` : 'macro';
  return `${origin.name}, ${what}, moving ${moves.join(' and ')}`;
}

function modulatorSettings(modulator: Modulator): string {
  const told = toldOfModulator(modulator);
  if (told !== undefined) return ` ${told}`;
  const numbers = settings(modulator.kind, modulator, modulator.kind === 'envelope' ? 'times' : 'changed');
  return Object.keys(parametersOf(modulator.kind)).length === 0 ? '' : ` with ${numbers}`;
}

const UNCHANGED = 'as it is';

/**
 * Parameters by the words of the table: those that are not at their default, all, or an envelope's times
 * always.
 */
function settings(kind: ModuleKind, module: object, told: 'changed' | 'times' | 'all' = 'changed'): string {
  const values = module as Record<string, number>;
  const notes: Record<string, string> =
    kind === 'envelope' ? stageEnds(module as Envelope) : kind === 'ladder' ? filterNotes(module as Filter) : {};
  const entries = Object.entries(parametersOf(kind)).filter(([name, parameter]) => {
    const changed = values[name] !== parameter.default;
    return told === 'all' || changed || (told === 'times' && !name.endsWith('Curve') && name !== 'delaySeconds');
  });
  if (entries.length === 0) return UNCHANGED;
  return entries
    .map(([name, parameter]) =>
      [
        parameter.label.toLowerCase(),
        formatParameter(parameter, values[name]),
        ...(notes[name] ? [notes[name]] : []),
      ].join(' '),
    )
    .join(', ');
}
