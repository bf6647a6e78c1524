import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { freeId, setFields } from '@imprint/core/patch/edits/edit';
import { parameterOf } from '@imprint/core/parameters/table';
import type { Layer, Sample, Source, Wavetable } from '@imprint/core/patch/schema';
import { sourceSchema } from '@imprint/core/patch/schemas/sourceSchema';
import { editModule, usePatchStore, withSample } from '../../../stores/patchStore';
import { audioOf, cutOf, useStudyStore } from '../../../stores/studyStore';
import { toneApi } from '../../../stores/threads';
import { Tick } from '../editor/Editor';
import { SampleShape } from './SampleShape';

type SampleSource = Extract<Source, { kind: 'sample' }>;

/** Which sound a sample source plays, and how. */
export function SampleChoice({ layer, source }: { layer: Layer; source: SampleSource }) {
  const samples = usePatchStore((state) => state.patch!.samples);
  const sample = samples.find(({ id }) => id === source.sampleId)!;
  const cut = useStudyStore(cutOf);
  const load = useMutation({
    mutationFn: async (sound: File | 'cut') =>
      sound === 'cut'
        ? toneApi().sampleFromCut(audioOf(cut!), cut!.name)
        : toneApi().sampleFromFile(new Uint8Array(await sound.arrayBuffer()), sound.name),
    onSuccess: ({ sample: loaded, rootMidi }) => playSample(layer.id, source.id, loaded, rootMidi),
    onError: (error) => toast.error(error.message),
  });
  const toTable = useMutation({
    mutationFn: () => toneApi().wavetableFromSample(sample, source.rootMidi),
    onSuccess: (table) => becomeWavetable(layer.id, source, table),
    onError: (error) => toast.error(error.message),
  });
  const set = (fields: Record<string, unknown>) => editModule(layer.id, source.id, fields);
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 pb-1">
        <select
          className="select select-xs w-44"
          aria-label="Sample"
          value={source.sampleId}
          onChange={({ target }) => {
            if (target.value === ':cut') load.mutate('cut');
            else if (target.value === ':file') document.getElementById(`sample-file-${source.id}`)?.click();
            else set({ sampleId: target.value });
          }}
        >
          {samples.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
          {cut && <option value=":cut">From the cut “{cut.name}”</option>}
          <option value=":file">From a file …</option>
        </select>
        <input
          id={`sample-file-${source.id}`}
          type="file"
          className="hidden"
          accept="audio/*"
          aria-label="Sample file"
          onChange={({ target }) => {
            const [file] = target.files ?? [];
            target.value = '';
            if (file) load.mutate(file);
          }}
        />
        <Tick label="loop" checked={source.loop} onChange={(loop) => set({ loop })} />
        <Tick label="backwards" checked={source.reverse} onChange={(reverse) => set({ reverse })} />
        <span className="grow" />
        <button
          type="button"
          className="btn btn-xs btn-outline font-normal"
          disabled={toTable.isPending}
          title="Cuts single periods out along the sample, at its root note"
          onClick={() => toTable.mutate()}
        >
          Make a wavetable of it
        </button>
      </div>
      <SampleShape source={source} sample={sample} onChange={set} />
    </>
  );
}

/** Puts a sample into the patch and lets a source play it at its own root. */
export function playSample(layerId: string, sourceId: string, sample: Sample, rootMidi: number): void {
  withSample(sample, (patch, sampleId) => ({
    ...patch,
    layers: patch.layers.map((layer) =>
      layer.id === layerId ? setFields(layer, sourceId, { sampleId, rootMidi }) : layer,
    ),
  }));
}

/** Turns a sample source into a wavetable source with the same tuning, level and place. */
function becomeWavetable(layerId: string, source: SampleSource, table: Wavetable): void {
  usePatchStore.getState().edit((patch) => {
    const wavetableId = freeId('table', new Set(patch.wavetables.map(({ id }) => id)));
    const convert = (layer: Layer): Layer => ({
      ...layer,
      sources: layer.sources.map((old) =>
        old.id === source.id ? sourceSchema.parse({ ...old, kind: 'wavetable', wavetableId }) : old,
      ),
      routes: layer.routes.filter(
        ({ to }) => to.moduleId !== source.id || parameterOf('wavetable', to.parameter)?.routing,
      ),
    });
    return {
      ...patch,
      wavetables: [...patch.wavetables, { ...table, id: wavetableId }],
      layers: patch.layers.map((layer) => (layer.id === layerId ? convert(layer) : layer)),
    };
  });
}
