import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { builtInTables } from '@imprint/core/patch/contents/builtInTables';
import { dropUnused, freeId, setFields } from '@imprint/core/patch/edits/edit';
import { FRAME_SAMPLES, type Layer, type Source, type Wavetable } from '@imprint/core/patch/schema';
import { framesOf, wavetableFromSamples } from '@imprint/core/patch/contents/wavetableFrames';
import { PaintEditor } from '../../../drawing/PaintEditor';
import { axisIn } from '../../../drawing/axis';
import { usePatchStore } from '../../../stores/patchStore';
import { audioOf, cutOf, useStudyStore } from '../../../stores/studyStore';
import { toneApi } from '../../../stores/threads';

type WavetableSource = Extract<Source, { kind: 'wavetable' }>;

/** Points that a frame is drawn with; a pointer cannot place more. */
const DRAWN_POINTS = 256;
const MAX_FRAMES = 256;

/** Puts a wavetable into the patch under an id of its own and lets a source play it. */
export function playTable(layerId: string, sourceId: string, make: (id: string) => Wavetable): void {
  usePatchStore.getState().edit((patch) => {
    const id = freeId('table', new Set(patch.wavetables.map((table) => table.id)));
    return dropUnused({
      ...patch,
      wavetables: [...patch.wavetables, { ...make(id), id }],
      layers: patch.layers.map((layer) =>
        layer.id === layerId ? setFields(layer, sourceId, { wavetableId: id }) : layer,
      ),
    });
  });
}

/** Which table a source plays, and its frames, drawn with a pointer or by keys. */
export function TableEditor({ layer, source }: { layer: Layer; source: WavetableSource }) {
  const tables = usePatchStore((state) => state.patch!.wavetables);
  const table = tables.find(({ id }) => id === source.wavetableId)!;
  const samples = useMemo(() => framesOf(table), [table]);
  const [chosenFrame, setFrame] = useState(0);
  const frame = Math.min(chosenFrame, table.frameCount - 1);
  const drawn = useMemo(
    () =>
      Float32Array.from(
        { length: DRAWN_POINTS },
        (_, i) => samples[frame * FRAME_SAMPLES + i * (FRAME_SAMPLES / DRAWN_POINTS)],
      ),
    [samples, frame],
  );

  // A quiet frame is drawn larger, with room to grow.
  const reach = Math.min(1, Math.max(0.1, 1.3 * drawn.reduce((most, x) => Math.max(most, Math.abs(x)), 0)));

  function change(frames: Float32Array): void {
    playTable(layer.id, source.id, (id) => wavetableFromSamples(id, table.name, frames));
  }

  function draw(points: number[]): void {
    const next = samples.slice();
    for (let i = 0; i < FRAME_SAMPLES; i++) {
      const at = (i / FRAME_SAMPLES) * DRAWN_POINTS;
      const k = Math.floor(at);
      const after = points[(k + 1) % DRAWN_POINTS];
      next[frame * FRAME_SAMPLES + i] = points[k] + (at - k) * (after - points[k]);
    }
    change(next);
  }

  function addFrame(): void {
    if (table.frameCount >= MAX_FRAMES) return;
    const at = (frame + 1) * FRAME_SAMPLES;
    const next = new Float32Array(samples.length + FRAME_SAMPLES);
    next.set(samples.subarray(0, at));
    next.set(samples.subarray(at - FRAME_SAMPLES, at), at);
    next.set(samples.subarray(at), at + FRAME_SAMPLES);
    change(next);
    setFrame(frame + 1);
  }

  function deleteFrame(): void {
    if (table.frameCount === 1) return;
    const next = new Float32Array(samples.length - FRAME_SAMPLES);
    next.set(samples.subarray(0, frame * FRAME_SAMPLES));
    next.set(samples.subarray((frame + 1) * FRAME_SAMPLES), frame * FRAME_SAMPLES);
    change(next);
  }

  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <TableMenu layer={layer} source={source} />
        <span className="grow" />
        <label className="flex items-center gap-2 text-soft">
          Frame
          <input
            type="range"
            className="range range-xs w-40"
            aria-label="Frame"
            min={0}
            max={table.frameCount - 1}
            value={frame}
            onChange={({ target }) => setFrame(Number(target.value))}
          />
          <span className="figures w-14 text-right text-base-content">
            {frame + 1} of {table.frameCount}
          </span>
        </label>
        <button type="button" className="btn btn-xs btn-outline font-normal" onClick={addFrame}>
          Copy frame
        </button>
        <button
          type="button"
          className="btn btn-xs btn-ghost font-normal"
          disabled={table.frameCount === 1}
          onClick={deleteFrame}
        >
          Delete frame
        </button>
      </div>
      <PaintEditor
        as="line"
        label={`Frame ${frame + 1} of ${table.name}, one period`}
        values={drawn}
        axis={axisIn('', [-reach, reach])}
        place={(i) => `at ${((360 * i) / DRAWN_POINTS).toFixed(0)}°`}
        onChange={draw}
      />
    </>
  );
}

/** Tables to play: those of the patch, built-in ones, a file, the chosen cut. */
function TableMenu({ layer, source }: { layer: Layer; source: WavetableSource }) {
  const tables = usePatchStore((state) => state.patch!.wavetables);
  const cut = useStudyStore(cutOf);
  const take = (make: (id: string) => Wavetable | Promise<Wavetable>) =>
    Promise.resolve(make('table')).then(
      (table) => playTable(layer.id, source.id, () => table),
      (error: Error) => toast.error(error.message),
    );
  const choose = (value: string) => {
    const [kind, id] = value.split(':');
    if (kind === 'own') {
      usePatchStore.getState().edit((patch) => ({
        ...patch,
        layers: patch.layers.map((other) =>
          other.id === layer.id ? setFields(other, source.id, { wavetableId: id }) : other,
        ),
      }));
    } else if (kind === 'builtIn') void take(() => builtInTables.find((table) => table.id === id)!.make());
    else if (kind === 'cut' && cut) void take((tableId) => toneApi().wavetableFromCut(audioOf(cut), tableId, cut.name));
    else if (kind === 'file') document.getElementById(`table-file-${source.id}`)?.click();
  };
  return (
    <>
      <select
        className="select select-xs w-52"
        aria-label="Wavetable"
        value={`own:${source.wavetableId}`}
        onChange={({ target }) => choose(target.value)}
      >
        <optgroup label="In this patch">
          {tables.map(({ id, name }) => (
            <option key={id} value={`own:${id}`}>
              {name}
            </option>
          ))}
        </optgroup>
        <optgroup label="Built in">
          {builtInTables.map(({ id, name, note }) => (
            <option key={id} value={`builtIn:${id}`} title={note}>
              {name}
            </option>
          ))}
        </optgroup>
        <optgroup label="Make one">
          {cut && <option value="cut:">From the cut “{cut.name}”</option>}
          <option value="file:">From a WAV file …</option>
        </optgroup>
      </select>
      <input
        id={`table-file-${source.id}`}
        type="file"
        className="hidden"
        accept=".wav,audio/*"
        aria-label="Wavetable file"
        onChange={({ target }) => {
          const [file] = target.files ?? [];
          target.value = '';
          if (file)
            void take(async (id) =>
              toneApi().wavetableFromFile(new Uint8Array(await file.arrayBuffer()), id, file.name),
            );
        }}
      />
    </>
  );
}
