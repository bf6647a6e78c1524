import { useQuery } from '@tanstack/react-query';
import { client } from '../../api/client';
import { type Choice, useCompared } from '../../stores/comparedStore';
import { shownRun, useRuns } from '../../stores/runs';
import { useStudyStore } from '../../stores/studyStore';
import { Zooming } from './Zooming';

/** What is printed in blue and what in red. */
export function ComparedChoice() {
  const { first, second, smooth } = useCompared();
  return (
    <div className="hairline-b flex shrink-0 items-center gap-3 px-5 py-1">
      <OneOf
        label="Printed in blue"
        ink="bg-reference"
        chosen={first}
        onChoose={(first) => useCompared.setState({ first })}
      />
      <span className="text-soft">against</span>
      <OneOf
        label="Printed in red"
        ink="border-2 border-patch"
        chosen={second}
        onChoose={(second) => useCompared.setState({ second })}
      />
      <label
        className="ml-auto flex cursor-pointer items-center gap-2"
        title="Over an auditory filter’s bandwidth (ERB)"
      >
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={smooth}
          onChange={() => useCompared.setState({ smooth: !smooth })}
        />
        Smoothed as the ear does
      </label>
      <Zooming />
    </div>
  );
}

interface OneOfProps {
  label: string;
  ink: string;
  chosen: Choice;
  onChoose: (choice: Choice) => void;
}

function OneOf({ label, ink, chosen, onChoose }: OneOfProps) {
  const proofs = useStudyStore((state) => state.proofs);
  const cutId = useStudyStore((state) => state.cutId);
  const run = useRuns(shownRun);
  const { data } = useQuery({
    queryKey: ['run', run?.id],
    queryFn: () => client.run(run!.id),
    enabled: run !== null && run.state === 'done' && run.cutIds[0] === cutId,
    staleTime: Infinity,
  });
  const candidates = data?.run.cutIds[0] === cutId ? data.candidates : [];
  const own = proofs.filter((proof) => proof.cutId === cutId);
  return (
    <label className="flex items-center gap-2">
      <span className={`inline-block size-[10px] ${ink}`} />
      <select
        className="select select-xs w-44"
        aria-label={label}
        value={chosen}
        onChange={({ target }) => onChoose(target.value as Choice)}
      >
        <option value="reference">Reference</option>
        <option value="patch">Patch</option>
        {own.length > 0 && (
          <optgroup label="Proofs">
            {own.map(({ id, name }) => (
              <option key={id} value={`proof ${id}`}>
                {name}
              </option>
            ))}
          </optgroup>
        )}
        {candidates.length > 0 && (
          <optgroup label="Candidates of the last match">
            {candidates.map(({ id, name, overallJnd }) => (
              <option key={id} value={`candidate ${run!.id} ${id}`}>
                {name}, {overallJnd.toFixed(1)} JND
              </option>
            ))}
          </optgroup>
        )}
      </select>
    </label>
  );
}
