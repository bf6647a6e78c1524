import { parameterTable } from '../parameters/table';
import type { Patch } from './schema';

/** The patch at the tempo of its study's track, unless its own was set by hand or the track has none. */
export function atTrackTempo(patch: Patch, trackBpm: number | null): Patch {
  if (patch.tempoFrom === 'hand' || trackBpm === null) return patch;
  const { min, max } = parameterTable.patch.bpm;
  const bpm = Math.max(min, Math.min(max, Number(trackBpm.toFixed(2))));
  return bpm === patch.bpm ? patch : { ...patch, bpm };
}
