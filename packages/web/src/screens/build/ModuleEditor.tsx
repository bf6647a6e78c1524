import { Trash } from 'lucide-react';
import type { ReactNode } from 'react';
import { type Parameter, clampToRange } from '@imprint/core/parameters/parameter';
import { formatValue } from '@imprint/core/parameters/format';
import { type ModuleKind, parameterOf, parameterTable } from '@imprint/core/parameters/table';
import {
  type Layer,
  type Modulator,
  type Route,
  type ShapeName,
  type Source,
  shapeNames,
} from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';
import { type Measured, Ruler } from '../../components/Ruler';
import { editLayer, editModule } from '../../stores/patchStore';
import { sourceTitle } from './LayerStrip';
import { measuredAmp, measuredFilter, measuredSource } from './measured';
import { useSelection } from './selectionStore';

interface EditorProps {
  layer: Layer;
  reading: Reading;
}

/** The rulers of the chosen module. */
export function ModuleEditor({ layer, reading }: EditorProps) {
  const moduleId = useSelection((selection) => selection.moduleId);
  const source = layer.sources.find(({ id }) => id === moduleId);
  const modulator = layer.modulators.find(({ id }) => id === moduleId);
  if (source) return <SourceEditor layer={layer} source={source} reading={reading} />;
  if (modulator) return <ModulatorEditor layer={layer} modulator={modulator} />;
  if (moduleId === layer.amp.id) {
    return (
      <Editor title="Amp contour" note="level of every note of this layer">
        <Rulers
          kind="envelope"
          values={layer.amp}
          measured={measuredAmp(reading)}
          onChange={(fields) => editModule(layer.id, 'amp', fields)}
        />
      </Editor>
    );
  }
  if (moduleId === layer.id) {
    return (
      <Editor title="Level" note="of the whole layer">
        <Rulers
          kind="layer"
          values={layer}
          onChange={(fields) => editLayer(layer.id, (old) => ({ ...old, ...fields }))}
        />
      </Editor>
    );
  }
  return <FilterEditor layer={layer} reading={reading} />;
}

function FilterEditor({ layer, reading }: EditorProps) {
  const { filter } = layer;
  return (
    <Editor
      title={`Low-pass, ${filter.slopeDbPerOctave} dB per octave`}
      note="after all sources"
      action={
        <label className="flex items-center gap-2">
          Slope
          <select
            className="select select-xs w-28"
            value={filter.slopeDbPerOctave}
            onChange={({ target }) => editModule(layer.id, filter.id, { slopeDbPerOctave: Number(target.value) })}
          >
            <option value={12}>12 dB/oct</option>
            <option value={24}>24 dB/oct</option>
          </select>
        </label>
      }
    >
      <Rulers
        kind="lowpass"
        values={filter}
        measured={measuredFilter(reading)}
        sweeps={sweepsOf(layer, filter.id, 'lowpass', filter)}
        onChange={(fields) => editModule(layer.id, filter.id, fields)}
      />
    </Editor>
  );
}

function SourceEditor({ layer, source, reading }: EditorProps & { source: Source }) {
  const remove = () => {
    editLayer(layer.id, (old) => ({
      ...old,
      sources: old.sources.filter(({ id }) => id !== source.id),
      routes: old.routes.filter(({ to }) => to.moduleId !== source.id),
    }));
    useSelection.setState({ moduleId: layer.filter.id });
  };
  return (
    <Editor
      title={sourceTitle(source)}
      note={source.kind === 'wavetable' ? 'taken along the note of the cut' : 'band-limited at every pitch'}
      action={
        <div className="flex items-center gap-3">
          {source.kind === 'shape' && (
            <select
              className="select select-xs w-28"
              aria-label="Shape"
              value={source.shape}
              onChange={({ target }) => editModule(layer.id, source.id, { shape: target.value as ShapeName })}
            >
              {shapeNames.map((shape) => (
                <option key={shape}>{shape}</option>
              ))}
            </select>
          )}
          <button
            type="button"
            className="btn btn-xs btn-ghost btn-square"
            aria-label="Delete this source"
            onClick={remove}
          >
            <Trash size={13} />
          </button>
        </div>
      }
    >
      <Rulers
        kind={source.kind}
        values={source}
        measured={measuredSource(reading)}
        sweeps={sweepsOf(layer, source.id, source.kind, source)}
        hidden={source.kind === 'shape' && source.shape !== 'pulse' ? ['pulseWidth'] : []}
        onChange={(fields) => editModule(layer.id, source.id, fields)}
      />
    </Editor>
  );
}

function ModulatorEditor({ layer, modulator }: { layer: Layer; modulator: Modulator }) {
  const routes = layer.routes.filter(({ from }) => from === modulator.id);
  return (
    <Editor
      title={modulator.name}
      note={
        modulator.kind === 'envelope'
          ? 'an envelope, restarted by every note'
          : 'measured along the note of the cut; runs once per note'
      }
    >
      {routes.map((route) => (
        <RouteRuler key={route.id} layer={layer} route={route} bipolar={modulator.kind === 'contour'} />
      ))}
      {modulator.kind === 'envelope' && (
        <Rulers kind="envelope" values={modulator} onChange={(fields) => editModule(layer.id, modulator.id, fields)} />
      )}
    </Editor>
  );
}

/** The amount of a route as a ruler in the target's own unit. */
function RouteRuler({ layer, route, bipolar }: { layer: Layer; route: Route; bipolar: boolean }) {
  const { moduleId, parameter: name } = route.to;
  const kind = moduleId === layer.filter.id ? 'lowpass' : layer.sources.find(({ id }) => id === moduleId)?.kind;
  const target = kind && parameterOf(kind, name);
  if (!target?.routing) return null;
  const { unit, min, max } = target.routing;
  const parameter: Parameter = {
    label: `${target.label} by`,
    unit,
    min,
    max,
    default: 0,
    scale: 'linear',
    step: 0.1,
    moves: target.moves,
  };
  return (
    <div>
      <Ruler
        parameter={parameter}
        value={route.amount}
        onChange={(amount) => editModule(layer.id, route.id, { amount })}
      />
      <p className="pb-2 text-2xs text-soft">
        {bipolar
          ? `Bipolar: up to ${formatValue(Math.abs(route.amount), unit)} either way.`
          : 'Unipolar: added at the top of the envelope.'}
      </p>
    </div>
  );
}

type Sweeps = Record<string, { value: number; label: string }>;

/** How far active routes carry each parameter of a module at their top. */
function sweepsOf(layer: Layer, moduleId: string, kind: ModuleKind, values: object): Sweeps {
  const sweeps: Sweeps = {};
  for (const { to, amount } of layer.routes.filter(
    (route) => route.on && route.to.moduleId === moduleId && route.amount !== 0,
  )) {
    const parameter = parameterOf(kind, to.parameter);
    if (!parameter?.routing) continue;
    const base = (values as Record<string, number>)[to.parameter];
    const moved = parameter.routing.combine === 'semitones' ? base * 2 ** (amount / 12) : base + amount;
    sweeps[to.parameter] = {
      value: clampToRange(parameter, moved),
      label: `moved by ${formatValue(amount, parameter.routing.unit)}`,
    };
  }
  return sweeps;
}

interface RulersProps {
  kind: ModuleKind;
  values: object;
  measured?: Record<string, Measured | undefined>;
  sweeps?: Sweeps;
  hidden?: string[];
  onChange: (fields: Record<string, number>) => void;
}

/** A ruler for every parameter of a kind of module, in the order of the parameter table. */
function Rulers({ kind, values, measured = {}, sweeps = {}, hidden = [], onChange }: RulersProps) {
  const entries = Object.entries(parameterTable[kind] as Record<string, Parameter>).filter(
    ([name]) => !hidden.includes(name),
  );
  return entries.map(([name, parameter]) => (
    <Ruler
      key={name}
      parameter={parameter}
      value={(values as Record<string, number>)[name]}
      measured={measured[name]}
      sweepTo={sweeps[name]}
      onChange={(value) => onChange({ [name]: value })}
    />
  ));
}

function Editor({
  title,
  note,
  action,
  children,
}: {
  title: string;
  note: string;
  action?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section aria-label={title} className="px-5 pb-4">
      <header className="flex items-baseline justify-between gap-3 py-2">
        <h2 className="title text-lg">
          {title} <span className="ml-2 font-sans text-[13px] font-normal text-soft">{note}</span>
        </h2>
        {action}
      </header>
      {children}
    </section>
  );
}
