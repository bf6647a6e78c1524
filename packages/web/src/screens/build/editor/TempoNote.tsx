import { formatValue } from '@imprint/core/parameters/format';
import { usePatchStore } from '../../../stores/patchStore';
import { trackBpmOf, useStudyStore } from '../../../stores/studyStore';

/** Says at which tempo divisions are, and where that comes from. */
export function TempoNote() {
  const bpm = usePatchStore(({ patch }) => patch!.bpm);
  const byHand = usePatchStore(({ patch }) => patch!.tempoFrom === 'hand');
  const trackBpm = useStudyStore(trackBpmOf);
  const origin = byHand ? 'set by hand' : trackBpm === null ? 'the track has no sure tempo' : 'the tempo of the track';
  return (
    <span className="text-2xs text-soft">
      at <span className="figures">{formatValue(bpm, 'BPM')}</span>, {origin}
    </span>
  );
}
