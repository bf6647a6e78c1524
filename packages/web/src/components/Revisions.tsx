import { useQuery } from '@tanstack/react-query';
import { MAX_NAME } from '@imprint/core/patch/names';
import { History } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { client } from '../api/client';
import { usePatchStore } from '../stores/patchStore';
import { unpacked } from '../keeping/contents';
import { outbox } from '../keeping/keeping';
import type { SavingState } from '../keeping/outbox';
import { useSaving } from '../keeping/savingStore';
import { savePatch } from '../stores/patchSaving';
import { useStudyStore } from '../stores/studyStore';

const SHOWN = 30;

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

function RevisionList({ studyId, newest, onDone }: { studyId: string; newest: number; onDone: () => void }) {
  const { data = [], error } = useQuery({
    queryKey: ['revisions', studyId, newest],
    queryFn: () => client.revisions(studyId),
  });
  const [name, setName] = useState('');
  const keepNamed = async () => {
    try {
      await savePatch(name.trim());
      setName('');
    } catch (reason) {
      toast.error((reason as Error).message);
    }
  };
  const bringBack = async (id: string, number: number) => {
    try {
      const { patch } = await client.revision(id);
      usePatchStore.getState().setPatch(await unpacked(patch));
      toast(`The patch is that of revision ${number} again. Undo brings back what was there.`);
      onDone();
    } catch (reason) {
      toast.error((reason as Error).message);
    }
  };
  return (
    <div className="absolute right-0 bottom-8 z-20 max-h-96 w-80 overflow-y-auto border border-base-content bg-base-100 p-3">
      <h2 className="font-bold text-base-content">Revisions</h2>
      <form
        className="hairline-b flex gap-2 py-2"
        onSubmit={(event) => {
          event.preventDefault();
          void keepNamed();
        }}
      >
        <input
          className="input input-xs min-w-0 grow"
          aria-label="Name of this state"
          placeholder="Name this state, to keep it for good"
          maxLength={MAX_NAME}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <button className="btn btn-xs btn-outline" disabled={!name.trim()}>
          Keep
        </button>
      </form>
      {error && <p role="alert">{error.message}</p>}
      <ul>
        {data.slice(0, SHOWN).map(({ id, number, name, createdAt }) => (
          <li key={id} className="hairline-b flex items-center justify-between py-1">
            <span>
              <span className="figures text-base-content">{number}</span>{' '}
              {name ?? new Date(createdAt).toLocaleTimeString()}
            </span>
            {number === newest ? (
              <span>now</span>
            ) : (
              <button type="button" className="btn btn-xs btn-ghost" onClick={() => void bringBack(id, number)}>
                Bring back
              </button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
