import { stages } from '@imprint/core/matching/explain/hypothesis';
import { heldLocks } from '@imprint/core/patch/edits/locks';
import { structures } from '@imprint/core/matching/structure';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { usePatchStore } from '../../stores/patchStore';
import { QUICK_SECONDS, startRun, useRuns } from '../../stores/runs';
import { cutOf, useStudyStore } from '../../stores/studyStore';
import { CutScope } from './CutScope';
import { Part, Tick } from './scopeParts';
import { toggled, useScope } from './scopeStore';
import { structureTitles } from './structureTitles';

/** Times to choose from, with what they bring as a rule. */
const budgets: readonly { seconds: number; title: string; brings: string }[] = [
  { seconds: QUICK_SECONDS, title: `${QUICK_SECONDS} s`, brings: 'a first idea' },
  { seconds: 20, title: '20 s', brings: 'most of what can be told' },
  { seconds: 60, title: '1 min', brings: 'parts that are hard to see, tried one by one' },
  { seconds: 300, title: '5 min', brings: 'the last tenths of a JND' },
];

/** What is to be matched, from where, what may be turned, and for how long. */
export function ScopePanel() {
  const cut = useStudyStore(cutOf)!;
  const cuts = useStudyStore((state) => state.cuts);
  const hasPatch = usePatchStore(({ patch }) => patch !== null);
  const slots = useRuns((state) => state.slots);
  const failure = useRuns((state) => state.failure);
  const scope = useScope();
  const { structure, budgetSeconds, free, otherCutIds } = scope;
  const startsFromPatch = scope.startsFromPatch && hasPatch;
  const others = cuts.filter(({ id }) => id !== cut.id);
  const begin = () =>
    void startRun({
      cutIds: [cut.id, ...others.filter(({ id }) => otherCutIds.includes(id)).map(({ id }) => id)],
      structure,
      budgetSeconds,
      startsFromPatch,
      only: free.length === stages.length ? [] : [...free],
    });
  useShortcut('match', begin, [cut.id, scope, hasPatch]);
  return (
    <aside aria-label="What is matched" className="hairline-r flex w-[232px] shrink-0 flex-col">
      <div className="flex min-h-0 grow flex-col gap-4 overflow-y-auto p-4">
        <CutScope />
        <Part title="Rebuild it as">
          <select
            className="select select-sm w-full"
            aria-label="Rebuild it as"
            value={structure}
            onChange={({ target }) => useScope.setState({ structure: target.value as typeof structure })}
          >
            {structures.toReversed().map((value) => (
              <option key={value} value={value}>
                {structureTitles[value]}
              </option>
            ))}
          </select>
        </Part>
        <Part title="Begin">
          <Choice
            name="begin"
            options={[
              { value: 'evidence', title: 'with what the cut shows' },
              { value: 'patch', title: 'with the patch as it is', disabled: !hasPatch },
            ]}
            chosen={startsFromPatch ? 'patch' : 'evidence'}
            onChoose={(value) => useScope.setState({ startsFromPatch: value === 'patch' })}
          />
        </Part>
        <Part title="May be turned">
          {stages.map((stage) => (
            <Tick
              key={stage}
              title={stage}
              ticked={free.includes(stage)}
              onTurn={() => useScope.setState({ free: stages.filter((one) => toggled(free, stage).includes(one)) })}
            />
          ))}
        </Part>
        {startsFromPatch && <Locks />}
        <Part title="Time">
          <Choice
            name="budget"
            options={budgets.map(({ seconds, title, brings }) => ({ value: String(seconds), title, note: brings }))}
            chosen={String(budgetSeconds)}
            onChoose={(value) => useScope.setState({ budgetSeconds: Number(value) })}
          />
        </Part>
      </div>
      <div className="hairline-t shrink-0 space-y-2 p-4">
        <p className="flex items-center gap-2">
          <button type="button" className="btn btn-sm btn-neutral grow" disabled={free.length === 0} onClick={begin}>
            Match
          </button>
          <Key of="match" />
        </p>
        {slots === 0 && <NoWorker />}
        {failure && (
          <p role="alert" className="border-l-4 border-base-content bg-base-200 px-3 py-2">
            {failure}
          </p>
        )}
      </div>
    </aside>
  );
}

/** What was locked on Build. */
function Locks() {
  const patch = usePatchStore((state) => state.patch)!;
  const held = heldLocks(patch);
  return (
    <Part title="Locked on Build">
      {held.length === 0 ? (
        <p className="text-soft">
          Nothing. <Key of="lock" /> there locks an element.
        </p>
      ) : (
        <>
          <ul>
            {held.map(({ lock, title }) => (
              <li key={lock} className="truncate" title={title}>
                {title}
              </li>
            ))}
          </ul>
          <button
            type="button"
            className="cursor-pointer underline decoration-dotted underline-offset-2"
            onClick={() => usePatchStore.getState().edit((old) => ({ ...old, locks: [] }))}
          >
            Let all go
          </button>
        </>
      )}
    </Part>
  );
}

function NoWorker() {
  return (
    <p role="alert" className="border-l-4 border-base-content bg-base-200 px-3 py-2">
      Nobody works on matches now, so one that is begun waits. <code>npm start</code> starts a worker beside the server;{' '}
      <code>npm run worker</code> starts another.
    </p>
  );
}

interface ChoiceProps {
  name: string;
  options: readonly { value: string; title: string; note?: string; disabled?: boolean }[];
  chosen: string;
  onChoose: (value: string) => void;
}

function Choice({ name, options, chosen, onChoose }: ChoiceProps) {
  return options.map(({ value, title, note, disabled = false }) => (
    <label key={value} className={`flex items-baseline gap-2 py-px ${disabled ? 'text-soft' : 'cursor-pointer'}`}>
      <input
        type="radio"
        className="radio radio-xs translate-y-[2px]"
        name={name}
        value={value}
        checked={value === chosen}
        disabled={disabled}
        onChange={() => onChoose(value)}
      />
      <span>
        {title}
        {note && <span className="text-soft"> {note}</span>}
      </span>
    </label>
  ));
}
