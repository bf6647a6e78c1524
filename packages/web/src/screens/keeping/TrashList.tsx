import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { TRASH_DAYS, type TrashItem, type TrashKind } from '@imprint/contract/api';
import { client } from '../../api/client';
import { Unshowable } from '../../components/Unshowable';

const KINDS: Record<TrashKind, string> = { study: 'Study', cut: 'Cut', proof: 'Proof' };
const DAY_MS = 86_400_000;

/** What was deleted in the last 30 days. */
export function TrashList() {
  const queries = useQueryClient();
  const trash = useQuery({ queryKey: ['trash'], queryFn: client.trash });
  const [asking, setAsking] = useState<string | null>(null);
  const report = (error: Error) => toast.error(error.message);
  const run = (action: Promise<unknown>) =>
    void action
      .then(() => Promise.all(['trash', 'studies'].map((key) => queries.invalidateQueries({ queryKey: [key] }))))
      .catch(report)
      .finally(() => setAsking(null));
  const items = trash.data?.shown ?? [];
  return (
    <section aria-label="Trash" className="hairline-r px-12 py-8">
      <div className="flex items-baseline justify-between">
        <h2 className="title text-2xl">Trash</h2>
        {items.length > 0 && (
          <Sure
            asked={asking === 'all'}
            onAsk={() => setAsking('all')}
            onKeep={() => setAsking(null)}
            onSure={() => run(client.emptyTrash())}
            what="Empty the trash"
          />
        )}
      </div>
      <p className="mt-1 max-w-xl text-soft">
        Studies, cuts and proofs that were deleted. They stay for {TRASH_DAYS} days and come back as they were; a study
        brings its cuts, its patch and its proofs.
      </p>
      {trash.isPending && <p className="mt-6 text-soft">Looking into the trash …</p>}
      {trash.isError && (
        <p role="alert" className="mt-6">
          {trash.error.message}
        </p>
      )}
      {trash.data && items.length === 0 && <p className="mt-6">Nothing in it.</p>}
      {trash.data && <Unshowable rows={trash.data.unshown} what="thing" />}
      <ul className="mt-4">
        {items.map((item) => (
          <li key={item.id} className="hairline-b flex items-center justify-between gap-4 py-2">
            <div className="min-w-0">
              <p className="truncate font-bold">{item.name}</p>
              <p className="text-soft">
                {KINDS[item.kind]}
                {item.kind !== 'study' && ` of “${item.studyTitle}”`}, {daysLeft(item)}
              </p>
            </div>
            <span className="flex shrink-0 gap-1">
              <button
                type="button"
                className="btn btn-sm btn-outline"
                onClick={() => run(client.putBack(item.kind, item.id).then(() => toast(`“${item.name}” is back.`)))}
              >
                Put back
              </button>
              <Sure
                asked={asking === item.id}
                onAsk={() => setAsking(item.id)}
                onKeep={() => setAsking(null)}
                onSure={() => run(client.deleteForGood(item.kind, item.id))}
                what="Delete for good"
              />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function daysLeft({ deletedAt }: TrashItem): string {
  const days = Math.max(0, Math.ceil(TRASH_DAYS - (Date.now() - Date.parse(deletedAt)) / DAY_MS));
  return days === 1 ? 'one day left' : `${days} days left`;
}

interface SureProps {
  what: string;
  asked: boolean;
  onAsk: () => void;
  onKeep: () => void;
  onSure: () => void;
}

/** A button for what cannot be undone, which asks once. */
function Sure({ what, asked, onAsk, onKeep, onSure }: SureProps) {
  if (!asked) {
    return (
      <button type="button" className="btn btn-sm btn-ghost" onClick={onAsk}>
        {what}
      </button>
    );
  }
  return (
    <span className="flex gap-1">
      <button type="button" className="btn btn-sm btn-neutral" onClick={onSure}>
        {what}, for sure
      </button>
      <button type="button" className="btn btn-sm btn-ghost" onClick={onKeep}>
        Keep
      </button>
    </span>
  );
}
