import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { makeFirstPatch, readCut, startEmpty } from '../stores/readings';
import { cutOf, readingOf, useStudyStore } from '../stores/studyStore';
import { usePatchStore } from '../stores/patchStore';
import { Key } from './Key';
import { Message } from './Message';
import { WorkProgress } from './WorkProgress';

/**
 * Shows its children once the chosen cut is measured and, when asked for, there is a patch; else says what is
 * missing.
 */
export function NeedsReading({ patch = false, children }: { patch?: boolean; children: ReactNode }) {
  const cut = useStudyStore(cutOf);
  const reading = useStudyStore(readingOf);
  const busy = useStudyStore((state) => state.work !== null);
  const hasPatch = usePatchStore((state) => state.patch !== null);
  if (!cut) {
    return (
      <Message
        title="No cut yet"
        action={
          <Link to="../listen" className="btn btn-sm btn-neutral">
            Go to Listen
          </Link>
        }
      >
        <p>Mark a note of the reference first: a stretch where the tone is alone, with its attack and its tail.</p>
      </Message>
    );
  }
  if (reading && (hasPatch || !patch)) return children;
  const title = reading ? 'No patch yet' : `“${cut.name}” is not measured yet`;
  return (
    <Message
      title={title}
      action={
        !busy && (
          <>
            <button type="button" className="btn btn-sm btn-neutral" onClick={() => void makeFirstPatch()}>
              {hasPatch ? 'Measure and start over' : 'Measure and make a first patch'}
            </button>
            {!reading && (
              <button type="button" className="btn btn-sm btn-outline" onClick={() => void readCut()}>
                Measure only
              </button>
            )}
            {reading && patch && (
              <button type="button" className="btn btn-sm btn-outline" onClick={startEmpty}>
                Start from an empty patch
              </button>
            )}
          </>
        )
      }
    >
      <p>
        A first patch takes a wavetable, the level and the brightness contours from the cut, so that there is something
        to compare with. <Key of="build" /> on Listen does the same.
      </p>
      <WorkProgress />
    </Message>
  );
}
