import { useCallback, useEffect } from 'react';
import { NeedsReading } from '../../components/NeedsReading';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { partialsOption } from '../../drawing/overprintOptions';
import { endAudition } from '../../stores/auditionStore';
import { usePatchStore } from '../../stores/patchStore';
import { useTransport } from '../../stores/transportStore';
import { readingOf, useStudyStore } from '../../stores/studyStore';
import { Lanes } from './Lanes';
import { LayerStrip } from './strip/LayerStrip';
import { ModuleEditor } from './editor/ModuleEditor';
import { chosenLayer, useSelection } from './selectionStore';
import { useBuildKeys } from './useBuildKeys';

const SHOWN_PARTIALS = 40;

/** One layer: its elements in signal order, their rulers, and its movement over the note. */
export function BuildScreen() {
  return (
    <NeedsReading patch>
      <Build />
    </NeedsReading>
  );
}

function Build() {
  const patch = usePatchStore((state) => state.patch)!;
  const layerId = useSelection((selection) => selection.layerId);
  const layer = chosenLayer(patch, layerId);
  const reading = useStudyStore(readingOf)!;
  const proof = useStudyStore((state) => state.proof);
  const reference = reading.traits.partials.levelsDb;
  const printed = proof?.reading.traits.partials.levelsDb;
  const option = useCallback(
    (inks: Inks) => partialsOption(reference.slice(0, SHOWN_PARTIALS), printed?.slice(0, SHOWN_PARTIALS), inks),
    [reference, printed],
  );
  useBuildKeys(layer, patch);
  const deck = useTransport((state) => state.deck);
  useEffect(() => deck?.watch(layer.id, layer.groupId), [deck, layer.id, layer.groupId]);
  // What is heard alone is heard alone here only.
  useEffect(() => endAudition, []);
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-0 grow">
        <LayerStrip layer={layer} patch={patch} />
        <div className="flex min-w-0 grow flex-col">
          <Legend />
          <Chart className="h-[104px] shrink-0 px-2" option={option} label="Partials: reference left, patch right" />
          <div className="hairline-t min-h-0 grow overflow-y-auto">
            <ModuleEditor layer={layer} reading={reading} />
          </div>
        </div>
      </div>
      <Lanes layer={layer} reading={reading} />
    </div>
  );
}

function Legend() {
  return (
    <p className="flex shrink-0 justify-end gap-4 px-5 pt-1 text-soft">
      <span className="mr-auto font-bold text-base-content">Partials</span>
      <span className="flex items-center gap-1">
        <span className="inline-block size-[10px] bg-reference" /> reference
      </span>
      <span className="flex items-center gap-1">
        <span className="inline-block size-[10px] border-2 border-patch" /> patch
      </span>
    </p>
  );
}
