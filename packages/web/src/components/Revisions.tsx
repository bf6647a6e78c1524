import { History } from 'lucide-react';
import { useState } from 'react';
import { outbox } from '../keeping/keeping';
import type { SavingState } from '../keeping/outbox';
import { useSaving } from '../keeping/savingStore';
import { useStudyStore } from '../stores/studyStore';
import { RevisionList } from './RevisionList';

/** Whether the patch is saved, and the way back to every kept state of it. */
export function Revisions() {
  const studyId = useStudyStore((state) => state.study?.id);
  const revision = useStudyStore((state) => state.revision);
  const [open, setOpen] = useState(false);
  if (!studyId) return null;
  if (!revision) return <SavingStatus />;
  return (
    <div className="relative flex items-center">
      <button
        type="button"
        className="btn btn-ghost btn-xs font-normal"
        aria-expanded={open}
        title="Earlier states of the patch"
        onClick={() => setOpen(!open)}
      >
        <History size={14} />
        Revision {revision.number}
      </button>
      <SavingStatus />
      {open && <RevisionList studyId={studyId} newest={revision.number} onDone={() => setOpen(false)} />}
    </div>
  );
}

const STATES: Record<SavingState, string> = {
  saved: 'saved',
  saving: 'saving …',
  kept: 'not saved, kept in this browser',
  conflict: 'not saved, kept in this browser: changed in another window',
  refused: 'not saved, kept in this browser',
};

/** Whether what was changed is on the server, and if not, where it is and why. */
function SavingStatus() {
  const { state, reason } = useSaving();
  return (
    <span
      className={`flex items-center gap-2 px-1 text-xs ${state === 'saved' || state === 'saving' ? '' : 'text-base-content'}`}
    >
      <span role="status" data-testid="saving" title={reason ?? undefined}>
        {STATES[state]}
        {state === 'refused' && `: ${reason}`}
      </span>
      {state === 'conflict' && (
        <button type="button" className="btn btn-xs btn-outline" onClick={() => useSaving.setState({ deciding: true })}>
          Decide …
        </button>
      )}
      {(state === 'kept' || state === 'refused') && (
        <button type="button" className="btn btn-xs btn-outline" onClick={() => void outbox.tryRefused()}>
          Try again
        </button>
      )}
    </span>
  );
}
