import { useQuery } from '@tanstack/react-query';
import type { RunCandidate } from '@imprint/contract/runs';
import type { PatchPart } from '@imprint/core/patch/edits/adoptPart';
import { changeWords } from '@imprint/core/patch/words/changeWords';
import { unpacked } from '../../keeping/contents';
import { usePatchStore } from '../../stores/patchStore';
import { patchWith } from '../../stores/runs';

const SHOWN = 4;

/** What taking a candidate over would change in the patch, in words, before it does. */
export function WouldChange({ candidate, part }: { candidate: RunCandidate; part: PatchPart | 'all' }) {
  const patch = usePatchStore((state) => state.patch);
  const { data } = useQuery({
    queryKey: ['candidate patch', candidate.id],
    queryFn: () => unpacked(candidate.patch),
    staleTime: Infinity,
  });
  if (!patch || !data) return null;
  const words = changeWords(patch, patchWith(data, part));
  if (words.length === 0) return <p className="mt-1 text-soft">The patch has this already.</p>;
  const more = words.length - SHOWN;
  return (
    <p className="mt-1 text-soft" title={words.join('\n')}>
      Would change: {words.slice(0, SHOWN).join('; ')}
      {more > 0 ? `; and ${more} more` : ''}.
    </p>
  );
}
