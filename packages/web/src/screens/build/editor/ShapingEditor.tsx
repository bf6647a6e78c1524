import { useMemo } from 'react';
import { shaperCurve } from '@imprint/core/engine/effects/chain/picture';
import { changeFilterKind } from '@imprint/core/patch/edits/edit';
import { filterNotes } from '@imprint/core/patch/words/filterNotes';
import type { Filter, FilterKind, Layer, Shaper } from '@imprint/core/patch/schema';
import { effects } from '@imprint/core/parameters/effects/index';
import { shaperTitles } from '@imprint/core/parameters/shapes';
import { filterTitles, moduleTitle } from '@imprint/core/patch/words/words';
import type { Reading } from '@imprint/core/reading/schema';
import { editLayer, editModule } from '../../../stores/patchStore';
import { CurvePicture } from './CurvePicture';
import { Choice, Editor, Tick } from './Editor';
import { DrawnLine } from '../effects/EffectDrawing';
import { FilterShape } from './FilterShape';
import { Rulers } from './Rulers';
import { measuredFilter } from './measured';

const slopes = { '6': '6 dB/oct', '12': '12 dB/oct', '18': '18 dB/oct', '24': '24 dB/oct' };
const bandSlopes = { '12': '12 dB/oct', '24': '24 dB/oct' };
const polarities = { positive: 'positive', negative: 'negative' };
const orders = { series: 'one after the other', parallel: 'side by side' };

export function FilterEditor({ layer, filter, reading }: { layer: Layer; filter: Filter; reading: Reading }) {
  const second = layer.filters[1].id === filter.id;
  const set = (fields: Record<string, unknown>) => editModule(layer.id, filter.id, fields);
  return (
    <Editor
      title={moduleTitle(layer, filter.id)}
      named={{ name: filter.name, onName: (name) => set({ name }) }}
      note={second ? 'second filter' : 'first filter'}
      action={
        <>
          <Choice
            label="Kind"
            value={filter.kind}
            titles={filterTitles}
            onChange={(kind: FilterKind) => editLayer(layer.id, (old) => changeFilterKind(old, filter.id, kind))}
          />
          {'slopeDbPerOctave' in filter && (
            <Choice
              label="Slope"
              className="w-24"
              value={String(filter.slopeDbPerOctave) as keyof typeof slopes}
              titles={(filter.kind === 'bandpass' ? bandSlopes : slopes) as typeof slopes}
              onChange={(slope) => set({ slopeDbPerOctave: Number(slope) })}
            />
          )}
          {'polarity' in filter && (
            <Choice
              label="Feedback"
              className="w-24"
              value={filter.polarity}
              titles={polarities}
              onChange={(polarity) => set({ polarity })}
            />
          )}
          {'makeUp' in filter && (
            <Tick label="Makes up" checked={filter.makeUp} onChange={(makeUp) => set({ makeUp })} />
          )}
        </>
      }
    >
      <FilterShape filter={filter} set={set} />
      <Rulers
        layer={layer}
        moduleId={filter.id}
        kind={filter.kind}
        values={filter}
        notes={filterNotes(filter)}
        measured={filter.kind === 'lowpass' || filter.kind === 'ladder' ? measuredFilter(reading) : {}}
      />
      <div className="pt-1">
        <Choice
          label="The two filters stand"
          value={layer.filterOrder}
          titles={orders}
          className="w-44"
          onChange={(filterOrder) => editLayer(layer.id, (old) => ({ ...old, filterOrder }))}
        />
      </div>
    </Editor>
  );
}

export function ShaperEditor({ layer, shaper }: { layer: Layer; shaper: Shaper }) {
  const curve = useMemo(() => shaperCurve(shaper), [shaper]);
  return (
    <Editor
      title="Shaper"
      note={`${shaperTitles[shaper.curve]}, ${layer.filterOrder === 'series' ? 'between the filters' : 'after the first filter'}`}
      action={
        <Choice
          label="Curve"
          value={shaper.curve}
          titles={shaperTitles}
          onChange={(name) => editModule(layer.id, shaper.id, { curve: name })}
        />
      }
    >
      {shaper.curve === 'drawn' && (
        <DrawnLine
          line={effects.drive.choices.drawnCurve}
          points={shaper.drawnCurve}
          onChange={(drawnCurve) => editModule(layer.id, shaper.id, { drawnCurve })}
        />
      )}
      <CurvePicture
        label="Output over input, with drive and lean"
        points={curve}
        x={[-1, 1]}
        y={[-1.6, 1.6]}
        marksX={[-1, 0, 1].map((at) => ({ at, text: String(at).replace('-', '−') }))}
        marksY={[-1, 0, 1].map((at) => ({ at, text: String(at).replace('-', '−') }))}
      />
      <Rulers layer={layer} moduleId={shaper.id} kind="shaper" values={shaper} />
    </Editor>
  );
}
