import { Trash, Waves } from 'lucide-react';
import { tuningOffsetCents } from '@imprint/core/engine/tuningOffset';
import { formatValue } from '@imprint/core/parameters/format';
import { parametersOf } from '@imprint/core/parameters/table';
import { addRoute, removeFromLayer } from '@imprint/core/patch/edit';
import { PER_UNISON_VOICE, amountParameter, modulesOf, targetOf } from '@imprint/core/patch/modules';
import type { Layer, Macro, Modulator, Route } from '@imprint/core/patch/schema';
import { moduleTitle, polarityWords, targetTitle } from '@imprint/core/patch/words';
import { ActionMenu } from '../../components/ActionMenu';
import { Ruler } from '../../components/Ruler';
import { exaggerate, stopExaggerating } from '../../stores/auditionStore';
import { addToLayer, editLayer, editModule, usePatchStore } from '../../stores/patchStore';

/** The routes of a modulator or macro: where they go, how far in the target's own unit, and whether both ways. */
export function RouteList({ layer, origin }: { layer: Layer; origin: Modulator | Macro }) {
  const routes = layer.routes.filter(({ from }) => from === origin.id);
  return (
    <section aria-label="Routes" className="mb-2">
      <h3 className="hairline-b flex items-center justify-between pb-1 font-bold text-soft">
        Moves
        <TargetMenu layer={layer} origin={origin} />
      </h3>
      {routes.length === 0 && <p className="py-2 text-soft">Nothing yet. Choose what it moves.</p>}
      {routes.map((route) => (
        <RouteRow key={route.id} layer={layer} route={route} />
      ))}
    </section>
  );
}

function RouteRow({ layer, route }: { layer: Layer; route: Route }) {
  const patch = usePatchStore((state) => state.patch)!;
  const target = targetOf(layer, route.to);
  if (typeof target === 'string') return null;
  const title = targetTitle(layer, route, patch);
  const parameter = { ...amountParameter(target.parameter), label: title };
  const offset = tuningOffsetCents(patch, layer, route);
  return (
    <div className={`hairline-b py-1 ${route.on ? '' : 'opacity-60'}`}>
      <Ruler
        parameter={parameter}
        value={route.amount}
        beside={
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            aria-label={`Route to ${title} on`}
            checked={route.on}
            onChange={({ target: box }) => editModule(layer.id, route.id, { on: box.checked })}
          />
        }
        onChange={(amount) => editModule(layer.id, route.id, { amount })}
      />
      <div className="flex items-center gap-2 text-2xs text-soft">
        <select
          className="select select-xs w-24 text-2xs"
          aria-label={`Polarity of the route to ${title}`}
          value={route.polarity}
          onChange={({ target: box }) => editModule(layer.id, route.id, { polarity: box.value })}
        >
          <option value="unipolar">unipolar</option>
          <option value="bipolar">bipolar</option>
        </select>
        <span className="figures grow truncate">
          {polarityWords(route.polarity, formatValue(route.amount, target.parameter.routing!.unit))}
        </span>
        <button
          type="button"
          className="btn btn-ghost btn-xs text-2xs font-normal"
          title="Hold: the route acts three times as strongly (W for the whole modulator)"
          onPointerDown={() => exaggerate(layer.id, route.id)}
          onPointerUp={stopExaggerating}
          onPointerLeave={stopExaggerating}
        >
          <Waves size={12} /> exaggerate
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Delete the route to ${title}`}
          onClick={() => editLayer(layer.id, (old) => removeFromLayer(old, route.id))}
        >
          <Trash size={12} />
        </button>
      </div>
      {offset !== undefined && (
        <p role="alert" className="mt-1 border-l-2 border-base-content pl-2 text-2xs">
          This puts held notes {formatValue(Math.round(offset), 'ct')} out of tune on average.{' '}
          {route.polarity === 'unipolar' && 'A bipolar route would keep them in tune.'}
        </p>
      )}
    </div>
  );
}

/** Everything of the layer that can be moved, by module. */
function TargetMenu({ layer, origin }: { layer: Layer; origin: Modulator | Macro }) {
  const patch = usePatchStore((state) => state.patch)!;
  const perVoice = 'of' in origin && origin.of === 'unison';
  const groups = modulesOf(layer)
    .filter(({ id }) => id !== origin.id && (!perVoice || layer.sources.some((source) => source.id === id)))
    .map(({ id, kind }) => ({
      title: moduleTitle(layer, id, patch),
      options: Object.fromEntries(
        Object.entries(parametersOf(kind))
          .filter(([name, { routing }]) => routing && (!perVoice || PER_UNISON_VOICE.has(name)))
          .map(([name, { label }]) => [`${id} ${name}`, label]),
      ),
    }));
  const amounts = layer.routes
    .filter(({ to }) => to.parameter !== 'amount' && !perVoice)
    .map((route) => [
      `${route.id} amount`,
      `${moduleTitle(layer, route.from, patch)} to ${targetTitle(layer, route, patch)}`,
    ]);
  const add = (value: string) => {
    const [moduleId, parameter] = value.split(' ');
    const target = targetOf(layer, { moduleId, parameter });
    if (typeof target === 'string') return;
    const { unit, max } = target.parameter.routing!;
    const amount = unit === 'st' ? 7 : unit === 'dB' ? -6 : 0.1 * Math.min(200, max);
    addToLayer(layer.id, (old) => addRoute(old, origin.id, { moduleId, parameter }, amount));
  };
  return (
    <ActionMenu
      label="Add a route"
      prompt="Add a route …"
      className="w-36 font-normal"
      groups={[
        ...groups,
        { title: 'Amounts of routes', options: Object.fromEntries(amounts) as Record<string, string> },
      ]}
      onPick={add}
    />
  );
}
