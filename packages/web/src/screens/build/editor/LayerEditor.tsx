import { addLayer, removeLayer } from '@imprint/core/patch/edits/edit';
import { type Layer, MAX_LAYERS } from '@imprint/core/patch/schema';
import { LAYER_MODULE } from '@imprint/core/patch/modules';
import { MAX_NAME } from '@imprint/core/patch/names';
import { editLayer, usePatchStore } from '../../../stores/patchStore';
import { Choice, Editor } from './Editor';
import { Rulers } from './Rulers';
import { TempoNote } from './TempoNote';
import { startEmpty } from '../../../stores/readings';
import { selectLayer } from '../../../stores/selectionStore';

/** The layer as a whole: name, level, place; a new one from a copy of it. */
export function LayerEditor({ layer }: { layer: Layer }) {
  const count = usePatchStore(({ patch }) => patch!.layers.length);
  const patch = usePatchStore((state) => state.patch)!;
  const change = (fields: Partial<Layer>) => editLayer(layer.id, (old) => ({ ...old, ...fields }));
  return (
    <Editor
      title={layer.name}
      note="the whole layer"
      action={
        <>
          <input
            className="input input-xs w-36"
            aria-label="Name of the layer"
            maxLength={MAX_NAME}
            value={layer.name}
            onChange={({ target }) => target.value && change({ name: target.value })}
          />
          <button
            type="button"
            className="btn btn-xs btn-outline font-normal"
            disabled={count >= MAX_LAYERS}
            title="A new layer that starts as this one is"
            onClick={() => copyLayer(layer)}
          >
            Copy to a new layer
          </button>
          <button
            type="button"
            className="btn btn-xs btn-ghost font-normal"
            disabled={count === 1}
            onClick={() => usePatchStore.getState().edit((old) => removeLayer(old, layer.id))}
          >
            Delete
          </button>
        </>
      }
    >
      <Rulers layer={layer} moduleId={LAYER_MODULE} kind="layer" values={layer} onChange={change} />
      <h3 className="hairline-b mt-3 pb-1 font-bold text-soft">The whole patch</h3>
      <Rulers
        layer={layer}
        moduleId=""
        kind="patch"
        values={{ ...patch }}
        onChange={(fields) => usePatchStore.getState().edit((old) => ({ ...old, ...fields, tempoFrom: 'hand' }))}
      />
      <p className="flex items-center gap-3 py-1">
        <TempoNote />
        {patch.tempoFrom === 'hand' && (
          <button
            type="button"
            className="btn btn-xs btn-outline font-normal"
            onClick={() => usePatchStore.getState().edit((old) => ({ ...old, tempoFrom: 'track' }))}
          >
            Follow the track
          </button>
        )}
        <span className="grow" />
        <button
          type="button"
          className="btn btn-xs btn-outline font-normal"
          title="One plain saw behind an open low-pass; Undo brings back what is here"
          onClick={startEmpty}
        >
          Start from an empty patch
        </button>
      </p>
    </Editor>
  );
}

/** Adds an empty layer, or a copy of one, and goes to it. */
export function copyLayer(copied?: Layer): void {
  usePatchStore.getState().edit((patch) => {
    if (patch.layers.length >= MAX_LAYERS) return patch;
    const [changed, id] = addLayer(patch, copied);
    selectLayer(id, copied ? id : 'source-1');
    return changed;
  });
}

const modes = { poly: 'many notes', mono: 'one note, starts anew', legato: 'one note, carries on' };
const glides = { never: 'never', always: 'always', overlap: 'where notes overlap' };
const glideBys = { time: 'for any distance', octave: 'for an octave' };

/** How the notes of the layer follow one another. */
export function VoiceEditor({ layer }: { layer: Layer }) {
  const { voice } = layer;
  const change = (fields: Partial<Layer['voice']>) =>
    editLayer(layer.id, (old) => ({ ...old, voice: { ...old.voice, ...fields } }));
  return (
    <Editor title="Notes" note="how they follow one another">
      <div className="flex flex-wrap gap-4 py-1">
        <Choice
          label="Plays"
          value={voice.mode}
          titles={modes}
          className="w-44"
          onChange={(mode) => change({ mode })}
        />
        <Choice
          label="Glides"
          value={voice.glide}
          titles={glides}
          className="w-40"
          onChange={(glide) =>
            change({ glide, ...(glide !== 'never' && voice.glideSeconds === 0 ? { glideSeconds: 0.08 } : {}) })
          }
        />
        {voice.glide !== 'never' && (
          <Choice
            label="Its length is"
            value={voice.glideBy}
            titles={glideBys}
            onChange={(glideBy) => change({ glideBy })}
          />
        )}
      </div>
      <Rulers
        layer={layer}
        moduleId=""
        kind="voice"
        values={voice}
        hidden={[
          ...(voice.mode === 'poly' ? [] : ['polyphony']),
          ...(voice.glide === 'never' ? ['glideSeconds'] : []),
          ...(voice.glideInSemitones === 0 ? ['glideInSeconds'] : []),
          ...(voice.glide === 'never' && voice.glideInSemitones === 0 ? ['glideCurve'] : []),
        ]}
        onChange={change}
      />
    </Editor>
  );
}
