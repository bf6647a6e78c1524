import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Pin, PinOff } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Revision } from '@imprint/contract/api';
import { MAX_NAME } from '@imprint/core/patch/names';
import { client } from '../api/client';
import { unpacked } from '../keeping/contents';
import { usePatchStore } from '../stores/patchStore';
import { savePatch } from '../stores/patchSaving';

const SHOWN = 40;

interface RevisionListProps {
  studyId: string;
  newest: number;
  onDone: () => void;
}

const told = (action: Promise<unknown>) =>
  void action.catch((reason: unknown) => toast.error((reason as Error).message));

/** Kept states of the patch: what changed with each, and the way back to it. */
export function RevisionList({ studyId, newest, onDone }: RevisionListProps) {
  const queryKey = ['revisions', studyId, newest];
  const queries = useQueryClient();
  const { data = [], error, isPending } = useQuery({ queryKey, queryFn: () => client.revisions(studyId) });
  const [name, setName] = useState('');
  const keepNamed = async () => {
    await savePatch(name.trim());
    setName('');
  };
  const bringBack = async ({ id, number }: Revision) => {
    const { patch } = await client.revision(id);
    usePatchStore.getState().setPatch(await unpacked(patch));
    toast(`The patch is that of revision ${number} again. Undo brings back what was there.`);
    onDone();
  };
  const change = async (id: string, fields: { name?: string | null; pinned?: boolean }) => {
    await client.changeRevision(id, fields);
    await queries.invalidateQueries({ queryKey });
  };
  // The first is at the end of the list, however many came since.
  const shown = data.length > SHOWN ? [...data.slice(0, SHOWN - 1), data[data.length - 1]] : data;
  return (
    <div className="absolute right-0 bottom-8 z-20 max-h-[26rem] w-[26rem] overflow-y-auto border border-base-content bg-base-100 p-3">
      <h2 className="font-bold text-base-content">Revisions</h2>
      <form
        className="hairline-b flex gap-2 py-2"
        onSubmit={(event) => {
          event.preventDefault();
          told(keepNamed());
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
      {isPending && <p className="py-2 text-soft">Looking for them …</p>}
      <ul>
        {shown.map((revision) => (
          <RevisionRow
            key={revision.id}
            revision={revision}
            isNow={revision.number === newest}
            onBack={() => told(bringBack(revision))}
            onChange={(fields) => told(change(revision.id, fields))}
          />
        ))}
      </ul>
    </div>
  );
}

interface RevisionRowProps {
  revision: Revision;
  isNow: boolean;
  onBack: () => void;
  onChange: (fields: { name?: string | null; pinned?: boolean }) => void;
}

function RevisionRow({ revision, isNow, onBack, onChange }: RevisionRowProps) {
  const { number, name, summary, pinned, createdAt } = revision;
  const kept = pinned || name !== null || number === 1;
  return (
    <li className="hairline-b flex items-start gap-2 py-1">
      <span className="figures w-8 shrink-0 text-right text-base-content">{number}</span>
      <div className="min-w-0 grow">
        <NameOf key={name} number={number} name={name} onName={(next) => onChange({ name: next })} />
        {summary && <p className="line-clamp-2 text-2xs text-soft">{summary}</p>}
        <p className="text-2xs text-soft">
          {new Date(createdAt).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}
          {kept && ', kept for good'}
        </p>
      </div>
      {number !== 1 && (
        <button
          type="button"
          className="btn btn-xs btn-ghost btn-square"
          aria-pressed={pinned}
          aria-label={`Pin revision ${number}`}
          title={pinned ? 'Let it go in time' : 'Keep it for good'}
          onClick={() => onChange({ pinned: !pinned })}
        >
          {pinned ? <PinOff size={13} /> : <Pin size={13} />}
        </button>
      )}
      {isNow ? (
        <span className="px-2 text-soft">now</span>
      ) : (
        <button type="button" className="btn btn-xs btn-ghost" onClick={onBack}>
          Bring back
        </button>
      )}
    </li>
  );
}

/** The name of a revision, taken over when the field is left; without one it asks for it. */
function NameOf({
  number,
  name,
  onName,
}: {
  number: number;
  name: string | null;
  onName: (name: string | null) => void;
}) {
  const [typed, setTyped] = useState(name ?? '');
  return (
    <input
      className={`w-full bg-transparent outline-offset-2 ${name === null ? '' : 'font-bold text-base-content'}`}
      aria-label={`Name of revision ${number}`}
      placeholder="no name"
      maxLength={MAX_NAME}
      value={typed}
      onChange={({ target }) => setTyped(target.value)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={() => typed.trim() !== (name ?? '') && onName(typed.trim() || null)}
    />
  );
}
