import type { Run } from '@imprint/contract/runs';
import { toast } from 'sonner';
import { client } from '../../api/client';
import { unpacked } from '../../keeping/contents';
import { keptOf } from '../../stores/cuts';
import { hearCandidate } from '../../stores/heardCandidate';
import { useStudyStore } from '../../stores/studyStore';
import { toneApi } from '../../stores/threads';

async function hearBest({ id, cutIds: [cutId] }: Run): Promise<void> {
  const { best, notes } = await client.run(id);
  const cut = useStudyStore.getState().cuts.find((one) => one.id === cutId);
  if (!best || !cut) return;
  // A search looks at the level last.
  const patch = await toneApi().asLoudAs(await unpacked(best), notes, await keptOf(cut, () => {}));
  hearCandidate({ id, cutId, patch, notes }, true);
}

/** Lets the best patch that a match has found so far be heard. */
export function HearBest({ run }: { run: Run }) {
  return (
    <button
      type="button"
      className="btn btn-xs btn-neutral"
      disabled={run.overallJnd === null}
      onClick={() => void hearBest(run).catch((error: Error) => toast.error(error.message))}
    >
      Hear the best so far
    </button>
  );
}
