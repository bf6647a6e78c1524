import { useEffect } from 'react';
import { NeedsCut } from '../../components/NeedsCut';
import { endHearing } from '../../stores/heardCandidate';
import { shownRun, useRuns } from '../../stores/runs';
import { Candidates } from './Candidates';
import { RunHistory } from './RunHistory';
import { RunView } from './RunView';
import { ScopePanel } from './ScopePanel';

/** Rebuilding the tone of a cut by search: what may be turned, how it gets on, what was found. */
export function MatchScreen() {
  // What is heard in place of the patch is heard here only.
  useEffect(() => endHearing, []);
  return (
    <NeedsCut>
      <div className="flex h-full">
        <ScopePanel />
        <Runs />
      </div>
    </NeedsCut>
  );
}

function Runs() {
  const run = useRuns(shownRun);
  const isKnown = useRuns(({ runs }) => runs !== null);
  if (!isKnown)
    return (
      <p className="p-5 text-soft" role="status">
        Asking for earlier matches …
      </p>
    );
  if (!run) return <Nothing />;
  return (
    <div className="flex min-w-0 grow flex-col overflow-y-auto">
      <RunView run={run} />
      <Candidates run={run} />
      <RunHistory />
    </div>
  );
}

function Nothing() {
  return (
    <div className="grow p-6">
      <div className="max-w-md border-l-4 border-base-content pl-5">
        <h2 className="title text-xl">Nothing was matched here yet</h2>
        <p className="mt-2 text-soft">
          A match measures the cut, tries which sources, filter, contours and effects would make its tone, and turns
          their numbers until the two can hardly be told apart. You may go on working, or close the page: it goes on.
        </p>
      </div>
    </div>
  );
}
