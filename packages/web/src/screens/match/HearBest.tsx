import type { Run } from '@imprint/contract/runs';
import { toast } from 'sonner';
import { client } from '../../api/client';
import { unpacked } from '../../keeping/contents';
import { hearCandidate } from '../../stores/heardCandidate';

async function hearBest({ id, cutIds: [cutId] }: Run): Promise<void> {
  const { best, notes } = await client.run(id);
  if (best) hearCandidate({ id, cutId, patch: await unpacked(best), notes }, true);
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
