import { SILENT_DB } from '@imprint/core/parameters/build';
import type { Layer, ShapeName, Source } from '@imprint/core/patch/schema';
import { shapeNames } from '@imprint/core/patch/schemas/sourceSchema';
import {
  destinationTitles,
  hiddenOfSource,
  phaseShapeTitles,
  purposeOfSource,
  tuningTitles,
  withPhaseShape,
} from '@imprint/core/patch/words/sources';
import { moduleTitle } from '@imprint/core/patch/words/words';
import type { Reading } from '@imprint/core/reading/schema';
import { PaintEditor } from '../../../drawing/PaintEditor';
import { PointEditor } from '../../../drawing/PointEditor';
import { axisIn, percentAxis } from '../../../drawing/axis';
import { editModule, usePatchStore } from '../../../stores/patchStore';
import { Choice, Editor } from '../editor/Editor';
import { InteractionMenu } from './InteractionMenu';
import { PartialTools } from './PartialTools';
import { Offer } from '../editor/Offer';
import { followingNote, rightFor } from '../editor/fixedTuning';
import { Rulers } from '../editor/Rulers';
import { SampleChoice } from './SampleChoice';
import { TableEditor } from './TableEditor';
import { measuredSource } from '../editor/measured';

interface SourceEditorProps {
  layer: Layer;
  source: Source;
  reading: Reading;
}

const shapeTitles = Object.fromEntries(shapeNames.map((name) => [name, name])) as Record<ShapeName, string>;

/** Levels of partials that can be drawn; at the bottom one is silent. */
const PARTIAL_LEVEL = axisIn('dB', [-72, 0], 1);
const SHARE = percentAxis([0, 1]);

/** A total spread that is heard as width, not as two tones. */
const DETUNE_CENTS = 12;

/** One source: what it plays, how it is tuned and spread, and its phase. */
export function SourceEditor({ layer, source, reading }: SourceEditorProps) {
  const patch = usePatchStore((state) => state.patch)!;
  const set = (fields: Record<string, unknown>) => editModule(layer.id, source.id, fields);
  return (
    <Editor
      title={moduleTitle(layer, source.id, patch)}
      note={purposeOfSource(source)}
      named={{ name: source.name, onName: (name) => set({ name }) }}
      action={
        <>
          {source.kind === 'shape' && (
            <Choice
              label="Shape"
              value={source.shape}
              titles={shapeTitles}
              className="w-24"
              onChange={(shape) => set({ shape })}
            />
          )}
          <Choice label="Goes to" value={source.into} titles={destinationTitles} onChange={(into) => set({ into })} />
        </>
      }
    >
      {source.kind === 'wavetable' && <TableEditor layer={layer} source={source} />}
      {source.kind === 'sample' && <SampleChoice layer={layer} source={source} />}
      {source.kind === 'partials' && (
        <>
          <PaintEditor
            as="bars"
            label="Levels of the partials"
            values={source.levelsDb}
            reference={reading.traits.partials.levelsDb}
            axis={PARTIAL_LEVEL}
            place={(i) => `partial ${i + 1}`}
            onChange={(levels) =>
              set({ levelsDb: levels.map((level) => (level <= PARTIAL_LEVEL.range[0] ? SILENT_DB : level)) })
            }
          />
          <PartialTools source={source} reading={reading} onChange={set} />
        </>
      )}
      {source.kind === 'noise' && (
        <div className="flex justify-end pb-1">
          <Choice
            label="Noise"
            value={source.restart}
            titles={{ free: 'runs on', note: 'the same for every note' }}
            className="w-44"
            onChange={(restart) => set({ restart })}
          />
        </div>
      )}
      {'tuning' in source && (
        <div className="flex flex-wrap items-center justify-between gap-2 pb-1">
          <Choice
            label="Tuned by"
            value={source.tuning}
            titles={tuningTitles}
            className="w-48"
            onChange={(tuning) => set({ tuning })}
          />
          {'phaseShape' in source && (
            <Choice
              label="Phase"
              value={source.phaseShape}
              titles={phaseShapeTitles}
              className="w-40"
              onChange={(phaseShape) => set(withPhaseShape(source, phaseShape))}
            />
          )}
        </div>
      )}
      {'phaseShape' in source && source.phaseShape === 'drawnTime' && (
        <PointEditor
          label="Drawn phase: where in the period is read, over the period"
          points={source.drawnPhase}
          x={SHARE}
          y={SHARE}
          fixedEnds
          maxPoints={32}
          onChange={(drawnPhase) => set({ drawnPhase })}
        />
      )}
      {'unisonVoices' in source && source.unisonVoices > 1 && source.unisonDetuneCents === 0 && (
        <Offer
          said={`${source.unisonVoices} voices, none out of tune: they only add up.`}
          offer={`Detune them by ${DETUNE_CENTS} ct`}
          onTake={() => set({ unisonDetuneCents: DETUNE_CENTS })}
        />
      )}
      {'tuning' in source && source.tuning === 'fixed' && (
        <Offer
          said={rightFor(source.fixedHz)}
          offer="Follow the note instead"
          onTake={() => set(followingNote(source.fixedHz, reading))}
        />
      )}
      <Rulers
        layer={layer}
        moduleId={source.id}
        kind={source.kind}
        values={source}
        measured={measuredSource(reading)}
        hidden={hiddenOfSource(source)}
      />
      <InteractionMenu layer={layer} source={source} />
    </Editor>
  );
}
