import { useCallback } from 'react';
import { NeedsReading } from '../../components/NeedsReading';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { partialsOption } from '../../drawing/overprintOptions';
import { usePatchStore } from '../../stores/patchStore';
import { readingOf, useStudyStore } from '../../stores/studyStore';
import { Lanes } from './Lanes';
import { LayerStrip } from './LayerStrip';
import { ModuleEditor } from './ModuleEditor';

const SHOWN_PARTIALS = 40;

/** One layer: its modules in signal order, their rulers, and its movement over the note. */
export function BuildScreen() {
  return (
    <NeedsReading patch>
      <Layer />
    </NeedsReading>
  );
}

function Layer() {
  const [layer] = usePatchStore(({ patch }) => patch!.layers);
  const reading = useStudyStore(readingOf)!;
  const proof = useStudyStore((state) => state.proof);
  const reference = reading.traits.partials.levelsDb;
  const patch = proof?.reading.traits.partials.levelsDb;
  const option = useCallback(
    (inks: Inks) => partialsOption(reference.slice(0, SHOWN_PARTIALS), patch?.slice(0, SHOWN_PARTIALS), inks),
    [reference, patch],
  );
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-0 grow">
        <LayerStrip layer={layer} />
        <div className="min-w-0 grow overflow-y-auto">
          <Legend />
          <Chart className="h-[150px] px-2" option={option} label="Partials: reference left, patch right" />
          <ModuleEditor layer={layer} reading={reading} />
        </div>
      </div>
      <Lanes layer={layer} reading={reading} />
    </div>
  );
}

function Legend() {
  return (
    <p className="flex justify-end gap-4 px-5 pt-2 text-soft">
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
