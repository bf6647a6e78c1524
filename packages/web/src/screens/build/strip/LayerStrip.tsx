import { useRef } from 'react';
import { formatSize, formatValue } from '@imprint/core/parameters/format';
import { shaperTitles } from '@imprint/core/parameters/shapes';
import { type NewModulator, addModulator, addSource, freeId, moved } from '@imprint/core/patch/edits/edit';
import { builtInTables } from '@imprint/core/patch/contents/builtInTables';
import { noteValues } from '@imprint/core/patch/schemas/modulatorSchema';
import {
  type Filter,
  type Layer,
  MAX_LAYERS,
  MAX_MACROS,
  type Patch,
  type Source,
  macroSchema,
} from '@imprint/core/patch/schema';
import { modulatorWords, noteValueTitles } from '@imprint/core/patch/words/modulators';
import { layerTitles, targetTitle } from '@imprint/core/patch/words/words';
import { toast } from 'sonner';
import { addToLayer, editLayer, editModule, usePatchStore } from '../../../stores/patchStore';
import { audioOf, cutOf, useStudyStore } from '../../../stores/studyStore';
import { toneApi } from '../../../stores/threads';
import { LayerChain, SharedChains } from './ChainStrip';
import { copyLayer } from '../editor/LayerEditor';
import { SortableList } from './SortableList';
import { AddMenu, StripSection } from './StripParts';
import { SortableRow, StripRow } from './StripRow';
import { VOICE, selectLayer, selectModule, useSelection } from '../../../stores/selectionStore';

/** The layers, and the chosen one in signal order: sources, shaping, amp, chain, movement. */
export function LayerStrip({ layer, patch }: { layer: Layer; patch: Patch }) {
  const moduleId = useSelection((selection) => selection.moduleId);
  const row = (id: string) => ({ id, selected: moduleId === id, onSelect: () => selectModule(id) });
  const switched = (module: { id: string; on: boolean }) => ({
    on: module.on,
    onSwitch: (on: boolean) => editModule(layer.id, module.id, { on }),
  });
  const solo = (id: string) => ({ layerId: layer.id, moduleId: id });
  const reorder = (key: 'sources' | 'modulators') => (from: number, to: number) =>
    editLayer(layer.id, (old) => ({ ...old, [key]: moved(old[key] as { id: string }[], from, to) }));
  const titles = layerTitles(layer, patch);
  const [first, second] = layer.filters;
  const shaperRow = (
    <StripRow
      {...row(layer.shaper.id)}
      {...switched(layer.shaper)}
      title="Shaper"
      detail={`${shaperTitles[layer.shaper.curve]}, ${formatValue(layer.shaper.driveDb, 'dB')}`}
      solo={solo(layer.shaper.id)}
    />
  );
  return (
    <nav aria-label="Layer" className="hairline-r flex w-[236px] shrink-0 flex-col overflow-y-auto pb-3">
      <Layers patch={patch} layer={layer} />
      <StripSection id="sources" title="Sources" action={<SourceMenu layer={layer} />}>
        {layer.sources.length === 0 && <p className="px-[14px] text-soft">Silent: there is no source.</p>}
        <SortableList ids={layer.sources.map(({ id }) => id)} onMove={reorder('sources')}>
          {layer.sources.map((source) => (
            <SortableRow
              key={source.id}
              {...row(source.id)}
              {...switched(source)}
              title={titles.get(source.id)!}
              detail={sourceDetail(source)}
              solo={solo(source.id)}
            />
          ))}
        </SortableList>
        {layer.interactions.map((interaction) => (
          <StripRow
            key={interaction.id}
            {...row(interaction.id)}
            {...switched(interaction)}
            title={titles.get(interaction.id)!}
            detail={
              interaction.kind === 'fm'
                ? `index ${formatValue(interaction.index, '')}`
                : formatValue(interaction.depth, '%')
            }
            solo={solo(interaction.id)}
          />
        ))}
      </StripSection>
      <StripSection id="shaping" title={layer.filterOrder === 'series' ? 'Shaping' : 'Shaping, filters side by side'}>
        <FilterRow
          {...row(first.id)}
          {...switched(first)}
          title={titles.get(first.id)!}
          filter={first}
          solo={solo(first.id)}
        />
        {shaperRow}
        <FilterRow
          {...row(second.id)}
          {...switched(second)}
          title={titles.get(second.id)!}
          filter={second}
          solo={solo(second.id)}
        />
      </StripSection>
      <StripSection id="amp" title="Amp">
        <StripRow
          {...row(layer.amp.id)}
          title="Contour"
          detail={`${formatValue(layer.amp.attackSeconds, 's')}, ${formatValue(layer.amp.decaySeconds, 's')}`}
        />
        <StripRow {...row(VOICE)} title="Notes" detail={voiceDetail(layer)} />
      </StripSection>
      <LayerChain patch={patch} layer={layer} />
      <StripSection id="movement" title="Movement" action={<ModulatorMenu layer={layer} />}>
        <SortableList ids={layer.modulators.map(({ id }) => id)} onMove={reorder('modulators')}>
          {layer.modulators.map((modulator) => {
            const routes = layer.routes.filter((route) => route.from === modulator.id);
            return (
              <SortableRow
                key={modulator.id}
                {...row(modulator.id)}
                title={titles.get(modulator.id)!}
                detail={
                  routes.length === 0
                    ? modulatorWords(modulator)
                    : routes.map((route) => targetTitle(layer, route, patch)).join('; ')
                }
                on={routes.length === 0 || routes.some((route) => route.on)}
                onSwitch={(on) =>
                  editLayer(layer.id, (old) => ({
                    ...old,
                    routes: old.routes.map((route) => (route.from === modulator.id ? { ...route, on } : route)),
                  }))
                }
                solo={solo(modulator.id)}
              />
            );
          })}
        </SortableList>
      </StripSection>
      <StripSection id="macros" title="Macros" action={<AddMacro patch={patch} />}>
        {patch.macros.map((macro) => (
          <StripRow key={macro.id} {...row(macro.id)} title={macro.name} detail={formatValue(macro.value, '%')} />
        ))}
      </StripSection>
      <SharedChains patch={patch} layer={layer} />
    </nav>
  );
}

function Layers({ patch, layer }: { patch: Patch; layer: Layer }) {
  const moduleId = useSelection((selection) => selection.moduleId);
  return (
    <>
      <StripSection
        id="layers"
        title={patch.layers.length === 1 ? 'Layer' : `${patch.layers.length} layers`}
        action={
          patch.layers.length < MAX_LAYERS && (
            <button type="button" className="btn btn-ghost btn-xs font-normal" onClick={() => copyLayer()}>
              Add
            </button>
          )
        }
      >
        <SortableList
          ids={patch.layers.map(({ id }) => id)}
          onMove={(from, to) =>
            usePatchStore.getState().edit((old) => ({ ...old, layers: moved(old.layers, from, to) }))
          }
        >
          {patch.layers.map((other) => (
            <SortableRow
              key={other.id}
              id={other.id}
              title={other.name}
              detail={`${formatValue(other.levelDb, 'dB')}, ${other.sources.length} source${other.sources.length === 1 ? '' : 's'}`}
              selected={moduleId === other.id && other.id === layer.id}
              onSelect={() => selectLayer(other.id)}
              on={other.on}
              onSwitch={(on) => editLayer(other.id, (old) => ({ ...old, on }))}
              solo={{ layerId: other.id, moduleId: null }}
            />
          ))}
        </SortableList>
      </StripSection>
      {patch.layers.length > 1 && (
        <p className="mx-[14px] mt-2 border-t border-base-content pt-1 font-bold">{layer.name}</p>
      )}
    </>
  );
}

function FilterRow({ filter, ...row }: { filter: Filter } & Omit<React.ComponentProps<typeof StripRow>, 'detail'>) {
  const detail = [
    ...('slopeDbPerOctave' in filter ? [`${filter.slopeDbPerOctave} dB`] : []),
    ...('cutoffHz' in filter ? [formatValue(filter.cutoffHz, 'Hz')] : []),
  ];
  return <StripRow {...row} detail={detail.join(', ') || 'a e i o u'} />;
}

function sourceDetail(source: Source): string {
  const level = formatValue(source.levelDb, 'dB');
  if (!('unisonVoices' in source) || source.unisonVoices === 1) return level;
  return `${source.unisonVoices} voices, ${formatSize(source.unisonDetuneCents, 'ct')}, ${level}`;
}

function voiceDetail({ voice }: Layer): string {
  const glide = voice.glide === 'never' ? '' : `, glide ${formatValue(voice.glideSeconds, 's')}`;
  return `${voice.mode === 'poly' ? `up to ${voice.polyphony}` : voice.mode}${glide}`;
}

const newSources = {
  sine: 'Sine',
  triangle: 'Triangle',
  saw: 'Saw',
  pulse: 'Pulse',
  wavetable: 'Wavetable',
  partials: 'Partials',
  noise: 'Noise',
  cut: 'Sample, from the cut',
  sample: 'Sample, from a file …',
};

function SourceMenu({ layer }: { layer: Layer }) {
  const file = useRef<HTMLInputElement>(null);
  const cut = useStudyStore(cutOf);
  const addSample = (load: Promise<Awaited<ReturnType<ReturnType<typeof toneApi>['sampleFromCut']>>>) =>
    load.then(
      ({ sample, rootMidi }) =>
        usePatchStore.getState().edit((patch) => {
          const id = freeId('sample', new Set(patch.samples.map((other) => other.id)));
          const old = patch.layers.find((other) => other.id === layer.id) ?? layer;
          const [changed, sourceId] = addSource(old, 'sample', { sampleId: id, rootMidi });
          selectModule(sourceId);
          return {
            ...patch,
            samples: [...patch.samples, { ...sample, id }],
            layers: patch.layers.map((other) => (other.id === layer.id ? changed : other)),
          };
        }),
      (error: Error) => toast.error(error.message),
    );
  const add = (choice: string) => {
    if (choice === 'sample') file.current?.click();
    else if (choice === 'cut') {
      if (cut) void addSample(toneApi().sampleFromCut(audioOf(cut), cut.name));
    } else if (choice === 'wavetable') addWavetable(layer);
    else if (choice === 'partials' || choice === 'noise')
      selectModule(addToLayer(layer.id, (old) => addSource(old, choice, choice === 'partials' ? sawPartials : {})));
    else selectModule(addToLayer(layer.id, (old) => addSource(old, 'shape', { shape: choice })));
  };
  return (
    <>
      <AddMenu label="Add a source" options={newSources} onAdd={add} />
      <input
        ref={file}
        type="file"
        className="hidden"
        accept="audio/*"
        aria-label="Sample to add"
        onChange={({ target }) => {
          const [chosen] = target.files ?? [];
          target.value = '';
          if (chosen)
            void addSample(
              chosen.arrayBuffer().then((bytes) => toneApi().sampleFromFile(new Uint8Array(bytes), chosen.name)),
            );
        }}
      />
    </>
  );
}

/** Where drawing of partials starts: those of a saw. */
const sawPartials = { levelsDb: Array.from({ length: 32 }, (_, i) => -20 * Math.log10(i + 1)) };

/** A wavetable source starts with the patch's first table, or with the plain shapes. */
function addWavetable(layer: Layer): void {
  usePatchStore.getState().edit((patch) => {
    const tables = patch.wavetables.length > 0 ? patch.wavetables : [{ ...builtInTables[0].make(), id: 'table-1' }];
    const old = patch.layers.find(({ id }) => id === layer.id) ?? layer;
    const [changed, sourceId] = addSource(old, 'wavetable', { wavetableId: tables[0].id });
    selectModule(sourceId);
    return {
      ...patch,
      wavetables: tables,
      layers: patch.layers.map((other) => (other.id === layer.id ? changed : other)),
    };
  });
}

const newModulators: Record<string, string> = {
  envelope: 'Envelope',
  lfo: 'LFO',
  ...Object.fromEntries(noteValues.map((of) => [of, noteValueTitles[of]])),
};

function ModulatorMenu({ layer }: { layer: Layer }) {
  return (
    <AddMenu
      label="Add a modulator"
      options={newModulators}
      onAdd={(what) => selectModule(addToLayer(layer.id, (old) => addModulator(old, what as NewModulator)))}
    />
  );
}

function AddMacro({ patch }: { patch: Patch }) {
  if (patch.macros.length >= MAX_MACROS) return null;
  const add = () => {
    const id = freeId('macro', new Set(patch.macros.map((macro) => macro.id)));
    const macro = macroSchema.parse({ id, name: `Macro ${patch.macros.length + 1}` });
    usePatchStore.getState().edit((old) => ({ ...old, macros: [...old.macros, macro] }));
    selectModule(id);
  };
  return (
    <button type="button" className="btn btn-ghost btn-xs font-normal" aria-label="Add a macro" onClick={add}>
      Add
    </button>
  );
}
