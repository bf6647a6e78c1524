import { useCallback } from 'react';
import type { Run } from '@imprint/contract/runs';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { distanceCurveOption } from '../../drawing/distanceCurveOption';
import { endRun, isOpen, useRuns } from '../../stores/runs';
import { useStudyStore } from '../../stores/studyStore';
import { HearBest } from './HearBest';
import { stageWords } from './stageWords';

/** How a match gets on, or got on: its distance over time, and what it is at. */
export function RunView({ run }: { run: Run }) {
  const cutName = useStudyStore(
    ({ cuts }) => cuts.find(({ id }) => id === run.cutIds[0])?.name ?? 'a cut that is gone',
  );
  const option = useCallback((inks: Inks) => distanceCurveOption(run.curve, run.budgetSeconds, inks), [run]);
  const open = isOpen(run);
  useShortcut('endRun', () => open && void endRun(run.id), [open, run.id]);
  return (
    <section aria-label="The match" className="hairline-b p-5 pb-3">
      <div className="flex items-baseline justify-between gap-4">
        <h2 className="title truncate text-xl">“{cutName}”</h2>
        {run.overallJnd !== null && (
          <p className="shrink-0">
            <span className="title text-3xl" data-testid="best-jnd">
              {run.overallJnd.toFixed(1)}
            </span>{' '}
            <span className="text-soft">JND apart</span>
          </p>
        )}
      </div>
      <div className="mt-1 flex min-h-8 items-center gap-3" role="status" aria-live="polite">
        <p className="min-w-0 grow">
          <State run={run} />
        </p>
        {open && <HearBest run={run} />}
        {open && (
          <button type="button" className="btn btn-xs btn-outline" onClick={() => void endRun(run.id)}>
            End it <Key of="endRun" />
          </button>
        )}
      </div>
      {open && (
        <progress className="progress mt-1 h-1 w-full" value={run.fraction} max={1} aria-label="Share of the time" />
      )}
      {/* It stands there from the beginning: made while the search runs, it would keep the page waiting. */}
      {(open || run.curve.length > 1) && (
        <Chart className="mt-2 h-32" option={option} label="Distance of the best patch over the time of the match" />
      )}
    </section>
  );
}

function State({ run }: { run: Run }) {
  const slots = useRuns((state) => state.slots);
  const { state, seconds, renders, failure, recommendation, stage } = run;
  const spent = (
    <span className="figures text-soft">
      {seconds.toFixed(1)} s, {renders} prints
    </span>
  );
  if (state === 'waiting')
    return slots === 0 ? 'Waiting for a worker; none is there.' : 'Waiting for a worker that is free.';
  if (state === 'running')
    return (
      <>
        Now {stageWords(stage || 'measuring')}. {spent}
      </>
    );
  if (state === 'failed')
    return (
      <span role="alert">
        Nothing came of it: <strong>{failure}</strong>
      </span>
    );
  return (
    <>
      {state === 'cancelled' ? 'Ended before its time. ' : ''}
      {recommendation} {spent}
    </>
  );
}
