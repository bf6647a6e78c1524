import { Plus } from 'lucide-react';
import { formatValue } from '@imprint/core/parameters/format';
import { type Filter, type Layer, type Source, sourceSchema } from '@imprint/core/patch/schema';
import { editLayer, editModule } from '../../stores/patchStore';
import { useSelection } from './selectionStore';

/** One layer in signal order: sources, shaping, amp, movement. */
export function LayerStrip({ layer }: { layer: Layer }) {
  return (
    <nav aria-label="Layer" className="hairline-r flex w-[224px] shrink-0 flex-col overflow-y-auto py-3">
      <Heading
        title="Sources"
        action={
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square"
            aria-label="Add a source"
            onClick={() => addShape(layer)}
          >
            <Plus size={13} />
          </button>
        }
      />
      {layer.sources.map((source) => (
        <Module
          key={source.id}
          id={source.id}
          title={sourceTitle(source)}
          detail={sourceDetail(source)}
          on={source.on}
          onSwitch={(on) => editModule(layer.id, source.id, { on })}
        />
      ))}
      <Heading title="Shaping" />
      <Module
        id={layer.filter.id}
        title="Low-pass"
        detail={filterDetail(layer.filter)}
        on={layer.filter.on}
        onSwitch={(on) => editModule(layer.id, layer.filter.id, { on })}
      />
      <Heading title="Amp" />
      <Module
        id={layer.amp.id}
        title="Contour"
        detail={`${formatValue(layer.amp.attackSeconds, 's')}, ${formatValue(layer.amp.decaySeconds, 's')}`}
      />
      <Module id={layer.id} title="Level" detail={formatValue(layer.levelDb, 'dB')} />
      <Heading title="Movement" />
      {layer.modulators.map((modulator) => {
        const routes = layer.routes.filter((route) => route.from === modulator.id);
        return (
          <Module
            key={modulator.id}
            id={modulator.id}
            title={modulator.name}
            detail={modulator.kind === 'envelope' ? 'envelope' : `line of ${modulator.points.length} points`}
            on={routes.some((route) => route.on)}
            onSwitch={(on) => routes.forEach((route) => editModule(layer.id, route.id, { on }))}
          />
        );
      })}
    </nav>
  );
}

export function sourceTitle(source: Source): string {
  return source.kind === 'wavetable' ? 'Wavetable' : source.shape[0].toUpperCase() + source.shape.slice(1);
}

function sourceDetail({ unisonVoices, unisonDetuneCents, levelDb }: Source): string {
  return unisonVoices > 1
    ? `${unisonVoices} voices, ${formatValue(unisonDetuneCents, 'ct').replace('+', '')}`
    : formatValue(levelDb, 'dB');
}

const filterDetail = ({ cutoffHz, slopeDbPerOctave }: Filter) =>
  `${slopeDbPerOctave} dB, ${formatValue(cutoffHz, 'Hz')}`;

function addShape(layer: Layer): void {
  const taken = new Set(layer.sources.map(({ id }) => id));
  let number = layer.sources.length + 1;
  while (taken.has(`source-${number}`)) number++;
  const id = `source-${number}`;
  editLayer(layer.id, (old) => ({
    ...old,
    sources: [...old.sources, sourceSchema.parse({ kind: 'shape', id, shape: 'saw', levelDb: -12 })],
  }));
  useSelection.setState({ moduleId: id });
}

function Heading({ title, action }: { title: string; action?: React.ReactNode }) {
  return (
    <div className="flex h-7 items-center justify-between pr-2 pl-[14px]">
      <h2 className="font-bold text-soft">{title}</h2>
      {action}
    </div>
  );
}

interface ModuleProps {
  id: string;
  title: string;
  detail: string;
  on?: boolean;
  onSwitch?: (on: boolean) => void;
}

function Module({ id, title, detail, on = true, onSwitch }: ModuleProps) {
  const selected = useSelection(({ moduleId }) => moduleId === id);
  return (
    <div
      className={`flex items-center border-l-[3px] ${selected ? 'border-base-content bg-base-200' : 'border-transparent'}`}
    >
      {onSwitch ? (
        <input
          type="checkbox"
          className="checkbox checkbox-xs mr-1 ml-[11px]"
          aria-label={`${title} on`}
          checked={on}
          onChange={({ target }) => onSwitch(target.checked)}
        />
      ) : (
        <span className="mr-1 ml-[11px] w-4" />
      )}
      <button
        type="button"
        aria-pressed={selected}
        className={`grow px-2 py-[5px] text-left ${on ? '' : 'opacity-50'}`}
        onClick={() => useSelection.setState({ moduleId: id })}
      >
        <span className="block leading-tight">{title}</span>
        <span className="figures block text-2xs leading-tight text-soft">{detail}</span>
      </button>
    </div>
  );
}
