import { SILENT_DB } from '../../parameters/build';
import { parameterOf, parametersOf } from '../../parameters/table';
import { modulesOf } from '../../patch/modules';
import type { Filter, Layer, Patch } from '../../patch/schema';

/**
 * How many numbers and choices of a patch differ from the defaults, of what is switched on: what a person
 * would have to set. Every drawn point counts, and of a table every frame.
 */
export function settingsOf(patch: Patch): number {
  const tables = patch.wavetables.reduce((sum, { frameCount }) => sum + frameCount, 0);
  return tables + patch.samples.length + patch.layers.reduce((sum, layer) => sum + settingsOfLayer(layer), 0);
}

function settingsOfLayer(layer: Layer): number {
  const used = new Set(layer.routes.filter(({ on, amount }) => on && amount !== 0).map(({ from }) => from));
  const isHeard = (id: string) => {
    const module = [...layer.filters, layer.shaper, ...layer.effects, ...layer.sources].find((m) => m.id === id);
    return module ? module.on : id === 'layer' || id === layer.amp.id || used.has(id) || isInteraction(layer, id);
  };
  const numbers = modulesOf(layer)
    .filter(({ id }) => isHeard(id))
    .reduce(
      (sum, { kind, values }) =>
        sum +
        Object.keys(parametersOf(kind)).filter((name) => values[name] !== parameterOf(kind, name)!.default).length,
      0,
    );
  // A module is a choice, and so is each route.
  const modules = layer.sources.length + layer.interactions.length + layer.effects.length + used.size;
  const filters = layer.filters.filter((filter: Filter) => filter.on).length + (layer.shaper.on ? 1 : 0);
  const points = layer.modulators.reduce(
    (sum, modulator) =>
      sum + (modulator.kind === 'contour' && used.has(modulator.id) ? 2 * modulator.points.length : 0),
    0,
  );
  const drawn = layer.sources.reduce((sum, source) => {
    if (source.kind !== 'partials') return sum;
    const heard = (_: number, i: number) => source.levelsDb[i] > SILENT_DB;
    return sum + source.levelsDb.filter(heard).length + source.phasesCycles.filter(heard).filter(Boolean).length;
  }, 0);
  return drawn + numbers + modules + filters + layer.routes.length + points;
}

const isInteraction = ({ interactions }: Layer, id: string) => interactions.some((own) => own.id === id && own.on);
