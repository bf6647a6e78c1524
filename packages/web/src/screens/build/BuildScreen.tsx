import { useCallback, useEffect } from 'react';
import { NeedsReading } from '../../components/NeedsReading';
import { Stack } from '../../components/Stack';
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
import { chosenLayer, useSelection } from '../../stores/selectionStore';
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
  const moduleId = useSelection((selection) => selection.moduleId);
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
    <div className="flex h-full">
      <LayerStrip layer={layer} patch={patch} />
      <Stack
        id="build"
        parts={[
          {
            id: 'partials',
            title: 'Partials',
            beside: <Legend />,
            startsPx: 0,
            leastPx: 100,
            content: <Chart className="h-full px-2" option={option} label="Partials: reference left, patch right" />,
          },
          {
            id: 'editor',
            leastPx: 220,
            content: (
              // Another element begins at its top.
              <div key={moduleId} className="h-full overflow-y-auto">
                <ModuleEditor layer={layer} reading={reading} />
              </div>
            ),
          },
          {
            id: 'lanes',
            title: 'Movement over the cut',
            startsPx: 120,
            leastPx: 90,
            content: <Lanes layer={layer} reading={reading} />,
          },
        ]}
      />
    </div>
  );
}

function Legend() {
  return (
    <p className="flex gap-4 text-soft">
      <span className="flex items-center gap-1">
        <span className="inline-block size-[10px] bg-reference" /> reference
      </span>
      <span className="flex items-center gap-1">
        <span className="inline-block size-[10px] border-2 border-patch" /> patch
      </span>
    </p>
  );
}
