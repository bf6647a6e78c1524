import { noteName } from '../dsp/pitch';
import type { PhraseNote } from '../engine/render';
import { formatParameter, formatValue } from '../parameters/format';
import { type ModuleKind, parameterOf, parameterTable } from '../parameters/table';
import type { Layer, Modulator, Patch, Source } from '../patch/schema';

/** The patch written out as steps in real units (Markdown), so that it can be rebuilt anywhere by hand. */
export function writeRecipe(patch: Patch, notes: readonly PhraseNote[]): string {
  const lines = [`# ${patch.name}`, ''];
  for (const layer of patch.layers) lines.push(...layerSteps(layer, patch));
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

function layerSteps(layer: Layer, patch: Patch): string[] {
  const lines = [`## ${layer.name}, level ${formatValue(layer.levelDb, 'dB')}`, ''];
  let step = 1;
  const add = (text: string) => lines.push(`${step++}. ${text}`);
  for (const source of layer.sources.filter(({ on }) => on)) {
    add(`${sourceTitle(source, patch)}: ${settings(source.kind, source)}.`);
  }
  const { filter } = layer;
  if (filter.on) add(`Low-pass, ${filter.slopeDbPerOctave} dB per octave: ${settings('lowpass', filter)}.`);
  add(`Amp contour: ${settings('envelope', layer.amp)}.`);
  for (const modulator of layer.modulators) {
    const targets = layer.routes.filter((route) => route.on && route.from === modulator.id && route.amount !== 0);
    if (targets.length === 0) continue;
    const to = targets.map(({ to: { moduleId, parameter }, amount }) => {
      const kind = kindOf(layer, moduleId);
      const entry = parameterOf(kind, parameter)!;
      return `${entry.label.toLowerCase()} by ${formatValue(amount, entry.routing!.unit)}`;
    });
    add(`${modulator.name}, moving ${to.join(' and ')}: ${modulatorText(modulator)}.`);
  }
  lines.push('');
  return lines;
}

function sourceTitle(source: Source, patch: Patch): string {
  if (source.kind === 'shape') return source.shape[0].toUpperCase() + source.shape.slice(1);
  const table = patch.wavetables.find(({ id }) => id === source.wavetableId);
  return `Wavetable "${table?.name}" of ${table?.frameCount} frames`;
}

function kindOf(layer: Layer, moduleId: string): ModuleKind {
  return layer.filter.id === moduleId ? 'lowpass' : layer.sources.find(({ id }) => id === moduleId)!.kind;
}

function modulatorText(modulator: Modulator): string {
  if (modulator.kind === 'envelope') return settings('envelope', modulator);
  const { points } = modulator;
  return `a line of ${points.length} points over ${formatValue(points[points.length - 1].seconds, 's')}`;
}

/** Every parameter that is not at its default, by the words of the parameter table; all of an envelope. */
function settings(kind: ModuleKind, module: object): string {
  const values = module as Record<string, number>;
  const all = Object.entries(parameterTable[kind]);
  const told = kind === 'envelope' ? all : all.filter(([name, parameter]) => values[name] !== parameter.default);
  if (told.length === 0) return 'as it is';
  return told
    .map(([name, parameter]) => `${parameter.label.toLowerCase()} ${formatParameter(parameter, values[name])}`)
    .join(', ');
}
