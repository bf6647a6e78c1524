import { Ear, Square } from 'lucide-react';
import type { WantedEvidence } from '@imprint/core/reading/evidence';
import { hearEvidence, isSame, useEvidence } from '../../stores/evidenceStore';
import { useStudyStore } from '../../stores/studyStore';

/** Plays what a trait was told from, alone; again to stop. */
export function EvidenceButton({ wanted, label }: { wanted: WantedEvidence; label: string }) {
  const heard = useEvidence((state) => isSame(state.heard, wanted));
  const busy = useStudyStore((state) => state.work !== null);
  return (
    <button
      type="button"
      aria-pressed={heard}
      disabled={busy}
      className={`btn btn-xs ${heard ? 'btn-neutral' : 'btn-ghost'} font-normal`}
      onClick={() => void hearEvidence(wanted)}
    >
      {heard ? <Square size={11} fill="currentColor" /> : <Ear size={13} />} {label}
    </button>
  );
}
