import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Run, RunCandidate, RunResult } from '@imprint/contract/runs';
import type { PatchPart } from '@imprint/core/patch/edits/adoptPart';
import { client } from '../../api/client';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { unpacked } from '../../keeping/contents';
import { hearCandidate, useHeardCandidate } from '../../stores/heardCandidate';
import { adopt, isOpen } from '../../stores/runs';
import { CandidateCard } from './CandidateCard';

const fail = (error: Error) => toast.error(error.message);

const partNames: Readonly<Record<PatchPart | 'all', string>> = {
  all: 'The whole candidate',
  sources: 'Its sources',
  filter: 'Its filter',
  movement: 'Its movement',
  effects: 'Its effects',
};

async function use(candidate: RunCandidate, part: PatchPart | 'all'): Promise<void> {
  await adopt(candidate, part);
  toast(`${partNames[part]} ${part === 'all' ? 'is' : 'are'} in the patch. Undo brings back what was there.`);
}

async function hear({ run, notes }: RunResult, { id, patch }: RunCandidate): Promise<void> {
  hearCandidate({ id, cutId: run.cutIds[0], patch: await unpacked(patch), notes }, true);
}

/** What a match has found, the recommended first: to be heard, and taken over whole or in part. */
export function Candidates({ run }: { run: Run }) {
  const open = isOpen(run);
  const { data, isError } = useQuery({
    queryKey: ['run', run.id],
    queryFn: () => client.run(run.id),
    enabled: !open,
    staleTime: Infinity,
  });
  const heardId = useHeardCandidate(({ heard }) => heard?.id);
  const [chosen, setChosen] = useState<{ id: string; part: PatchPart | 'all' } | null>(null);
  const candidates = data?.candidates ?? [];
  const next = () => {
    const at = candidates.findIndex(({ id }) => id === heardId);
    const candidate = candidates[(at + 1) % candidates.length];
    if (data && candidate) hear(data, candidate).catch(fail);
  };
  useShortcut('nextCandidate', next, [candidates, heardId]);
  useShortcut(
    'adopt',
    () => {
      const candidate = candidates.find(({ id }) => id === heardId) ?? candidates[0];
      if (candidate) use(candidate, 'all').catch(fail);
    },
    [candidates, heardId],
  );
  if (isError) return <p className="p-5">What this match has found cannot be loaded now.</p>;
  if (candidates.length === 0) return null;
  return (
    <section aria-label="Candidates" className="px-5 py-3">
      <h2 className="flex items-center gap-3 font-bold text-soft">
        Candidates
        <span className="font-normal">
          <Key of="nextCandidate" /> hears the next, <Key of="flip" /> flips to the reference, <Key of="adopt" /> uses
          it
        </span>
      </h2>
      <ul>
        {candidates.map((candidate, i) => (
          <CandidateCard
            key={candidate.id}
            candidate={candidate}
            isOwn={run.startsFromPatch}
            isRecommended={i === 0 && candidates.length > 1}
            isHeard={candidate.id === heardId}
            part={chosen?.id === candidate.id ? chosen.part : 'all'}
            onPart={(part) => setChosen({ id: candidate.id, part })}
            onHear={() => void hear(data!, candidate).catch(fail)}
            onUse={(part) => void use(candidate, part).catch(fail)}
          />
        ))}
      </ul>
    </section>
  );
}
