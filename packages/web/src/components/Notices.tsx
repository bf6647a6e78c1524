import type { ReactNode } from 'react';
import { toast } from 'sonner';
import { usePulse } from '../keeping/pulse';
import { useSaving } from '../keeping/savingStore';
import { takeTheirs } from '../stores/patchSaving';
import { useStudyStore } from '../stores/studyStore';

/** What one has to know of the server and of other windows, above the screen. */
export function Notices() {
  const { away, others, revision } = usePulse();
  const state = useSaving((saving) => saving.state);
  const study = useStudyStore(({ study }) => study);
  const mine = useStudyStore(({ revision }) => revision?.number ?? null);
  if (!study) return null;
  if (away !== null) {
    return (
      <Notice role="alert">
        <strong>{away}</strong> Go on working: what you change is kept in this browser and sent as soon as that is
        possible.
      </Notice>
    );
  }
  // Between a saving and the next pulse this window may be ahead.
  if (state === 'saved' && revision !== null && revision > (mine ?? 0)) {
    const show = () => void takeTheirs(study.id).catch((error: Error) => toast.error(error.message));
    return (
      <Notice>
        Another window saved revision {revision} of this patch; here is {mine ?? 'none'}.{' '}
        <button type="button" className="btn btn-xs btn-outline" onClick={show}>
          Show it here
        </button>
      </Notice>
    );
  }
  if (others === 0) return null;
  return <Notice>This study is open in {others === 1 ? 'another window' : `${others} other windows`}, too.</Notice>;
}

function Notice({ role = 'status', children }: { role?: 'status' | 'alert'; children: ReactNode }) {
  return (
    <p role={role} className="hairline-b shrink-0 bg-base-200 px-4 py-1">
      {children}
    </p>
  );
}
