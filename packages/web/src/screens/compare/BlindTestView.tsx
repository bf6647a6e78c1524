import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { BlindTest } from '@imprint/contract/blindTests';
import { TRIAL_COUNTS, verdictOf } from '@imprint/core/matching/blindTest';
import { client } from '../../api/client';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import {
  type Stimulus,
  answerTrial,
  hearStimulus,
  isOver,
  keepAnswers,
  leaveBlindTest,
  startBlindTest,
  useBlindTest,
} from '../../stores/blindTest';
import { useStudyStore } from '../../stores/studyStore';

/** A blind test of one's own ears: A is the reference, B the patch, X one of them. */
export function BlindTestView() {
  const test = useBlindTest((state) => state.test);
  const failure = useBlindTest((state) => state.failure);
  useEffect(() => leaveBlindTest, []);
  return (
    <div className="h-full overflow-y-auto p-6">
      {failure && (
        <p role="alert" className="mb-4 flex items-center gap-4 border-l-4 border-base-content bg-base-200 px-3 py-2">
          {failure}
          {test && (
            <button type="button" className="btn btn-sm" onClick={() => void keepAnswers()}>
              Send again
            </button>
          )}
        </p>
      )}
      {!test ? <Beginning /> : isOver(test) ? <Ending /> : <Trials planned={test.planned} done={test.trials.length} />}
      {(!test || isOver(test)) && <History />}
    </div>
  );
}

function Beginning() {
  const [planned, setPlanned] = useState<number>(TRIAL_COUNTS[2]);
  const hasProof = useStudyStore((state) => state.proof !== null);
  const begin = () => void startBlindTest(planned);
  useShortcut('match', () => hasProof && begin(), [planned, hasProof]);
  return (
    <section aria-label="A new test" className="max-w-xl">
      <h2 className="title text-xl">Can you tell them apart?</h2>
      <p className="mt-2 text-soft">
        A is the reference, B the patch, and X one of the two: which, is drawn anew each time and told at the end. Both
        are as loud, as long and begin at the same sample. They go round where the loop beside Play is on, else sound
        once. Hear them as often as you like, then say what X was.
      </p>
      <div className="mt-4 flex items-center gap-3">
        <label className="flex items-center gap-2">
          Trials
          <select
            className="select select-sm w-20"
            value={planned}
            onChange={({ target }) => setPlanned(Number(target.value))}
          >
            {TRIAL_COUNTS.map((count) => (
              <option key={count}>{count}</option>
            ))}
          </select>
        </label>
        <button type="button" className="btn btn-sm btn-neutral" disabled={!hasProof} onClick={begin}>
          Begin
        </button>
        <Key of="match" />
      </div>
    </section>
  );
}

const stimuli: readonly { stimulus: Stimulus; what: string }[] = [
  { stimulus: 'A', what: 'the reference' },
  { stimulus: 'B', what: 'the patch' },
  { stimulus: 'X', what: 'one of the two' },
];
const hearingKeys = { A: 'hearA', B: 'hearB', X: 'hearX' } as const;

function Trials({ planned, done }: { planned: number; done: number }) {
  const heard = useBlindTest((state) => state.heard);
  useShortcut('hearA', () => hearStimulus('A'));
  useShortcut('hearB', () => hearStimulus('B'));
  useShortcut('hearX', () => hearStimulus('X'));
  useShortcut('sayA', () => void answerTrial(false));
  useShortcut('sayB', () => void answerTrial(true));
  return (
    <section aria-label="The test">
      <h2 className="title text-xl">
        <span role="status">
          Trial {done + 1} of {planned}
        </span>
      </h2>
      <progress className="progress mt-2 h-1 w-full max-w-xl" value={done} max={planned} aria-label="Trials done" />
      <div className="mt-6 flex max-w-xl gap-4">
        {stimuli.map(({ stimulus, what }) => (
          <button
            key={stimulus}
            type="button"
            aria-pressed={heard === stimulus}
            className={`flex grow cursor-pointer flex-col items-center gap-1 border-2 border-base-content py-5 ${heard === stimulus ? 'bg-base-300' : ''}`}
            onClick={() => hearStimulus(stimulus)}
          >
            <span className="title text-4xl">{stimulus}</span>
            <span>{what}</span>
            <Key of={hearingKeys[stimulus]} />
          </button>
        ))}
      </div>
      <div className="mt-6 flex max-w-xl items-center gap-4">
        <span className="text-soft">X was</span>
        <Answer title="A, the reference" of="sayA" saysPatch={false} />
        <Answer title="B, the patch" of="sayB" saysPatch />
        <button type="button" className="btn btn-sm btn-ghost ml-auto font-normal" onClick={leaveBlindTest}>
          Leave the test
        </button>
      </div>
    </section>
  );
}

function Answer({ title, of, saysPatch }: { title: string; of: 'sayA' | 'sayB'; saysPatch: boolean }) {
  const hasHeard = useBlindTest((state) => state.heard !== null);
  return (
    <span className="flex items-center gap-2">
      <button
        type="button"
        className="btn btn-sm btn-outline"
        disabled={!hasHeard}
        onClick={() => void answerTrial(saysPatch)}
      >
        {title}
      </button>
      <Key of={of} />
    </span>
  );
}

function Ending() {
  const { trials } = useBlindTest((state) => state.test)!;
  const { correct, p, words } = verdictOf(trials);
  return (
    <section aria-label="Result" className="max-w-xl">
      <h2 className="title text-xl">
        {correct} of {trials.length} right
      </h2>
      <p className="mt-1">
        <span className="figures">p = {p < 0.001 ? p.toExponential(1) : p.toFixed(3)}</span>
      </p>
      <p className="mt-2 font-bold">{words}</p>
      <ol className="mt-3 flex flex-wrap gap-1" aria-label="Answers">
        {trials.map(({ isPatch, saidPatch }, i) => (
          <li
            // oxlint-disable-next-line react/no-array-index-key
            key={i}
            className={`figures flex size-6 items-center justify-center border border-base-content text-2xs ${isPatch === saidPatch ? 'bg-base-content text-base-100' : ''}`}
            title={`X was ${isPatch ? 'B' : 'A'}, you said ${saidPatch ? 'B' : 'A'}`}
          >
            {saidPatch ? 'B' : 'A'}
          </li>
        ))}
      </ol>
      <p className="mt-1 text-soft">Filled: right.</p>
      <button type="button" className="btn btn-sm btn-neutral mt-4" onClick={leaveBlindTest}>
        Done
      </button>
    </section>
  );
}

function History() {
  const studyId = useStudyStore((state) => state.study!.id);
  // What has just ended stands above.
  const shownId = useBlindTest((state) => state.test?.id);
  const { data } = useQuery({
    queryKey: ['blind tests', studyId, shownId],
    queryFn: () => client.blindTests(studyId),
    placeholderData: (before) => before,
  });
  const answered = (data ?? []).filter(({ id, trials }) => trials.length > 0 && id !== shownId);
  if (answered.length === 0) return null;
  return (
    <section aria-label="Earlier tests" className="mt-8 max-w-xl">
      <h3 className="hairline-b pb-1 font-bold text-soft">Earlier tests</h3>
      <ul>
        {answered.map((test) => (
          <EarlierTest key={test.id} test={test} />
        ))}
      </ul>
    </section>
  );
}

function EarlierTest({ test: { what, planned, trials, createdAt } }: { test: BlindTest }) {
  const { correct, p } = verdictOf(trials);
  return (
    <li className="hairline-b grid grid-cols-[1fr_auto_auto] items-baseline gap-4 py-1">
      <span className="truncate">{what}</span>
      <span className="text-soft">{new Date(createdAt).toLocaleString()}</span>
      <span className="figures w-44 text-right">
        {correct} of {trials.length}
        {trials.length < planned ? `, left before ${planned}` : `, p = ${p.toFixed(3)}`}
      </span>
    </li>
  );
}
