import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { readCut, startEmpty } from '../stores/readings';
import { startRun } from '../stores/runs';
import { cutOf, readingOf, useStudyStore } from '../stores/studyStore';
import { usePatchStore } from '../stores/patchStore';
import { Key } from './Key';
import { Message } from './Message';
import { NeedsCut } from './NeedsCut';
import { WorkProgress } from './WorkProgress';

/**
 * Shows its children once the chosen cut is measured and, when asked for, there is a patch; else says what is
 * missing.
 */
export function NeedsReading({ patch = false, children }: { patch?: boolean; children: ReactNode }) {
  const isMeasured = useStudyStore((state) => readingOf(state) !== null);
  const hasPatch = usePatchStore((state) => state.patch !== null);
  return <NeedsCut>{isMeasured && (hasPatch || !patch) ? children : <Missing patch={patch} />}</NeedsCut>;
}

function Missing({ patch }: { patch: boolean }) {
  const cut = useStudyStore(cutOf)!;
  const isMeasured = useStudyStore((state) => readingOf(state) !== null);
  const busy = useStudyStore((state) => state.work !== null);
  const navigate = useNavigate();
  const match = () => {
    void startRun();
    void navigate('../match');
  };
  return (
    <Message
      title={isMeasured ? 'No patch yet' : `“${cut.name}” is not measured yet`}
      action={
        !busy && (
          <>
            <button type="button" className="btn btn-sm btn-neutral" onClick={match}>
              Match the cut
            </button>
            {!isMeasured && (
              <button type="button" className="btn btn-sm btn-outline" onClick={() => void readCut()}>
                Measure only
              </button>
            )}
            {isMeasured && patch && (
              <button type="button" className="btn btn-sm btn-outline" onClick={startEmpty}>
                Start from an empty patch
              </button>
            )}
          </>
        )
      }
    >
      <p>
        A match measures the cut and rebuilds its tone from ordinary parts, within a few seconds. <Key of="build" /> on
        Listen does the same.
      </p>
      <WorkProgress />
    </Message>
  );
}
