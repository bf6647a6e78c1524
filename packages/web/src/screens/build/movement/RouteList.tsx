import type { ReactNode } from 'react';
import { Trash, Waves } from 'lucide-react';
import { tuningOffsetCents } from '@imprint/core/engine/voice/tuningOffset';
import { formatParameter, formatValue } from '@imprint/core/parameters/format';
import { type Parameter, rangeLeft } from '@imprint/core/parameters/parameter';
import { parameterOf, parametersOf } from '@imprint/core/parameters/table';
import { sharedEffects } from '@imprint/core/patch/edits/chains';
import { addRoute, removeFromLayer } from '@imprint/core/patch/edits/edit';
import { PER_UNISON_VOICE, amountParameter, modulesOf, targetOf } from '@imprint/core/patch/modules';
import type { Layer, Macro, Modulator, Route } from '@imprint/core/patch/schema';
import { effectTitles } from '@imprint/core/patch/words/effects';
import { moduleTitle, polarityWords, targetTitle } from '@imprint/core/patch/words/words';
import { ActionMenu } from '../../../components/ActionMenu';
import { Ruler } from '../../../components/Ruler';
import { exaggerate, stopExaggerating } from '../../../stores/auditionStore';
import { addToLayer, editLayer, editModule, usePatchStore } from '../../../stores/patchStore';

/**
 * The routes of a modulator or macro: where they go, how far in the target's own unit, and whether both ways.
 */
export function RouteList({ layer, origin }: { layer: Layer; origin: Modulator | Macro }) {
  const routes = layer.routes.filter(({ from }) => from === origin.id);
  const shared = usePatchStore(({ patch }) => patch!.routes).filter(({ from }) => from === origin.id);
  return (
    <section aria-label="Routes" className="mb-2">
      <h3 className="hairline-b flex items-center justify-between pb-1 font-bold text-soft">
        Moves
        <TargetMenu layer={layer} origin={origin} />
      </h3>
      {routes.length + shared.length === 0 && <p className="py-2 text-soft">Nothing yet. Choose what it moves.</p>}
      {routes.map((route) => (
        <LayerRoute key={route.id} layer={layer} route={route} />
      ))}
      {shared.map((route) => (
        <SharedRoute key={route.id} route={route} />
      ))}
    </section>
  );
}

function LayerRoute({ layer, route }: { layer: Layer; route: Route }) {
  const patch = usePatchStore((state) => state.patch)!;
  const target = targetOf(layer, route.to);
  if (typeof target === 'string') return null;
  const offset = tuningOffsetCents(patch, layer, route);
  return (
    <RouteRow
      route={route}
      title={targetTitle(layer, route, patch)}
      target={target.parameter}
      resting={target.resting}
      onChange={(fields) => editModule(layer.id, route.id, fields)}
      onRemove={() => editLayer(layer.id, (old) => removeFromLayer(old, route.id))}
      action={
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
      }
    >
      {offset !== undefined && (
        <p role="alert" className="mt-1 border-l-2 border-base-content pl-2 text-2xs">
          This puts held notes {formatValue(Math.round(offset), 'ct')} out of tune on average.{' '}
          {route.polarity === 'unipolar' && 'A bipolar route would keep them in tune.'}
        </p>
      )}
    </RouteRow>
  );
}

/** A route of a macro to an effect that several layers share. */
function SharedRoute({ route }: { route: Route }) {
  const patch = usePatchStore((state) => state.patch)!;
  const { edit } = usePatchStore.getState();
  const effect = sharedEffects(patch).find(({ id }) => id === route.to.moduleId);
  const target = effect && parameterOf(effect.kind, route.to.parameter);
  if (!target) return null;
  return (
    <RouteRow
      route={route}
      title={`${effectTitles[effect.kind]}, ${target.label.toLowerCase()}`}
      target={target}
      resting={(effect as unknown as Record<string, number>)[route.to.parameter]}
      onChange={(fields) =>
        edit((old) => ({
          ...old,
          routes: old.routes.map((other) => (other.id === route.id ? { ...other, ...fields } : other)),
        }))
      }
      onRemove={() => edit((old) => ({ ...old, routes: old.routes.filter(({ id }) => id !== route.id) }))}
    />
  );
}

interface RouteRowProps {
  route: Route;
  title: string;
  /** What it moves. */
  target: Parameter;
  /** Where that stands without any route. */
  resting: number;
  onChange: (fields: Partial<Route>) => void;
  onRemove: () => void;
  action?: ReactNode;
  children?: ReactNode;
}

function RouteRow({ route, title, target, resting, onChange, onRemove, action, children }: RouteRowProps) {
  const end = rangeLeft(target, resting, route.amount, route.polarity);
  return (
    <div className={`hairline-b py-1 ${route.on ? '' : 'text-soft'}`}>
      <Ruler
        parameter={{ ...amountParameter(target), label: title }}
        value={route.amount}
        beside={
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            aria-label={`Route to ${title} on`}
            checked={route.on}
            onChange={({ target: box }) => onChange({ on: box.checked })}
          />
        }
        onChange={(amount) => onChange({ amount })}
      />
      <div className="flex items-center gap-2 text-2xs text-soft">
        <select
          className="select select-xs w-24 text-2xs"
          aria-label={`Polarity of the route to ${title}`}
          value={route.polarity}
          onChange={({ target: box }) => onChange({ polarity: box.value as Route['polarity'] })}
        >
          <option value="unipolar">unipolar</option>
          <option value="bipolar">bipolar</option>
        </select>
        <span className="figures grow truncate">
          {polarityWords(route.polarity, formatValue(route.amount, target.routing!.unit))}
        </span>
        {action}
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Delete the route to ${title}`}
          onClick={onRemove}
        >
          <Trash size={12} />
        </button>
      </div>
      {end && (
        <p className="mt-1 border-l-2 border-base-content pl-2 text-2xs">
          It would go {end === 'min' ? 'below' : 'above'} {formatParameter(target, target[end])}, where{' '}
          {target.label.toLowerCase()} ends, and stays there for a part of its way.
        </p>
      )}
      {children}
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
