import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Tone } from '@imprint/core/matching/comparison';
import { Message } from '../../components/Message';
import { type Choice, useCompared } from '../../stores/comparedStore';
import { cutOf, readingOf, useStudyStore } from '../../stores/studyStore';
import { AtTheMoment } from './AtTheMoment';
import { ComparedChoice } from './ComparedChoice';
import { OverTime } from './OverTime';
import { sideOf, toneOf } from './sides';

/** Any two of reference, patch, proofs and candidates, printed over one another at every moment. */
export function Pictures() {
  const hasProof = useStudyStore((state) => state.proof !== null);
  const { first, second } = useCompared();
  const a = useTone(first);
  const b = useTone(second);
  const fault = a.error ?? b.error;
  const sides = useMemo(
    () => (a.data && b.data ? ([sideOf(a.data), sideOf(b.data)] as const) : null),
    [a.data, b.data],
  );
  return (
    <div className="flex h-full flex-col">
      <ComparedChoice />
      <div className="min-h-0 grow">
        {fault ? (
          <Message title="This cannot be compared">
            <p role="alert">{fault.message}</p>
          </Message>
        ) : !sides || !hasProof ? (
          <Message title="Printing the patch over the cut">
            <progress className="progress w-80" />
          </Message>
        ) : (
          <div className="grid h-full grid-cols-2 overflow-hidden">
            <OverTime first={sides[0]} second={sides[1]} />
            <AtTheMoment first={sides[0]} second={sides[1]} />
          </div>
        )}
      </div>
    </div>
  );
}

/** The sound of a choice; that of the patch is another after each print. */
function useTone(choice: Choice) {
  const cut = useStudyStore(cutOf)!;
  const reading = useStudyStore(readingOf)!;
  const comparison = useStudyStore((state) => state.proof?.comparison);
  return useQuery({
    queryKey: ['compared', choice, cut.id, reading.durationSeconds, choice === 'patch' ? comparison : null],
    queryFn: () => toneOf(choice),
    enabled: choice !== 'patch' || comparison !== undefined,
    staleTime: Infinity,
    retry: false,
    placeholderData: (before: Tone | undefined) => before,
  });
}
