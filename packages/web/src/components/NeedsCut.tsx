import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { cutOf, useStudyStore } from '../stores/studyStore';
import { Message } from './Message';

/** Shows its children once there is a cut; else says how to make one. */
export function NeedsCut({ children }: { children: ReactNode }) {
  const hasCut = useStudyStore((state) => cutOf(state) !== null);
  if (hasCut) return children;
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
